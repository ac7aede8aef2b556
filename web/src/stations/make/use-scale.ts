import { useEffect, useState } from "react";

import { instrumentOf, type Instrument, useInstruments, useShown } from "./instruments";
import { useStableCallback } from "../../shared/use-stable-callback";
import { keyOf } from "../../shared/device-store";
import type { Step } from "./replay";
import { useWork } from "./use-making";

/** What is on the scale for a line: what stood there before is taken off. */
export type OnScale = {
  instrument: Instrument;
  /** g of this line alone, to the scale's step; null until it is known what stood there before. */
  net: number | null;
  bowl: number;
  steady: boolean;
  gone: boolean;
  tare: () => void;
};

const ACCEPTS = "jalebi.accepts-weights";
const STEADY_FOR_MS = 1500;

const LEAST_STEPS = 2;

/** g of a line that lie on a scale; null where it is silent, or shows no more than it wavers by. */
export function weightOn({ net, gone, instrument }: OnScale): number | null {
  return !gone && net !== null && net >= LEAST_STEPS * instrument.step ? net : null;
}

/** The scale that a step is weighed on; null where none is connected, and everything is typed. */
export function useScale(step: Step): OnScale | null {
  const { making } = useWork();
  const instrument = instrumentOf(step, useInstruments());
  const shown = useShown(step.weighing && instrument?.connected ? instrument.key : null);
  const key = keyOf("tare", `${making.id}.${step.id}`);
  const [bowl, setBowl] = useState<number | null>(() => keptTare(key));
  const settled = shown !== null && !shown.gone && shown.steady;
  const stands = bowl === null && settled ? shown.value : null;
  if (stands !== null) setBowl(stands);
  useEffect(() => {
    if (bowl !== null) sessionStorage.setItem(key, String(bowl)); // a reload in the middle of a line goes on where it was
  }, [bowl, key]);
  if (!step.weighing || !instrument) return null;
  const digits = Math.max(0, Math.ceil(-Math.log10(instrument.step)));
  return {
    instrument,
    net: shown === null || bowl === null ? null : Number((shown.value - bowl).toFixed(digits)),
    bowl: bowl ?? 0,
    steady: settled,
    gone: !instrument.connected || (shown?.gone ?? false),
    tare: () => {
      if (shown !== null) setBowl(shown.value);
    },
  };
}

function keptTare(key: string): number | null {
  const kept = sessionStorage.getItem(key);
  return kept === null || Number.isNaN(Number(kept)) ? null : Number(kept);
}

/** Whether a weight is taken by itself once it is steady and inside; off until somebody turns it on. */
export function useAccepting(): [boolean, (on: boolean) => void] {
  const [on, setOn] = useState(() => localStorage.getItem(ACCEPTS) === "on");
  return [
    on,
    (next) => {
      localStorage.setItem(ACCEPTS, next ? "on" : "off");
      setOn(next);
    },
  ];
}

/** Take a weight once it has stood inside its band for a while. */
export function useAcceptItself(step: Step, scale: OnScale | null, on: boolean, confirm: () => void): void {
  const take = useStableCallback(confirm);
  const { net, steady, gone } = scale ?? { net: null, steady: false, gone: true };
  const inside = step.weighing !== null && net !== null && net > 0 && net >= step.weighing.low_g && net <= step.weighing.high_g;
  const ready = on && inside && steady && !gone;
  useEffect(() => {
    if (!ready) return;
    const timer = window.setTimeout(take, STEADY_FOR_MS);
    return () => window.clearTimeout(timer);
  }, [ready, take]);
}
