import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import { answer, api, type Schemas } from "../../shared/api/client";
import { instrumentsQuery } from "../../shared/api/queries";
import type { Step } from "./replay";

export type Instrument = Schemas["InstrumentOut"];
/** What an instrument shows now; ``gone`` once it has said nothing for too long. */
export type Showing = { value: number; steady: boolean; t: number; gone: boolean };

const ASK_EVERY_MS = 150;
/** While it stands still there is less to miss. */
const ASK_STANDING_MS = 250;
const GONE_AFTER_MS = 2500;
const TEMPERED = /_c$/;

/** The kitchen's instruments; none while that is not known. */
export function useInstruments(): Instrument[] {
  return useQuery(instrumentsQuery).data ?? [];
}

/** Why nothing comes from an instrument, as a sentence. */
export function silenceOf({ name, fault }: Instrument): string {
  return fault ? `The ${name.toLocaleLowerCase()} was cut off. ${fault}` : `The ${name.toLocaleLowerCase()} has gone quiet.`;
}

/** The scale that a step is weighed on, or the probe where a temperature is read; null where there is none. */
export function instrumentOf(step: Step, instruments: readonly Instrument[]): Instrument | null {
  if (step.weighing) {
    const kind = step.weighing.fine ? "fine-scale" : "scale";
    return instruments.find((one) => one.kind === kind) ?? null;
  }
  return step.readings.some(({ key }) => TEMPERED.test(key)) || isWatched(step) ? (instruments.find(({ kind }) => kind === "probe") ?? null) : null;
}

/** Whether a step's temperatures are logged while it goes on. */
export function isWatched(step: Step): boolean {
  return /^(warm|cook|scald|syrup|boil|cool|churn|harden|prefreeze)$/.test(step.kind);
}

/** What an instrument shows, asked for again and again only while somebody looks. */
export function useShown(key: string | null): Showing | null {
  const [shown, setShown] = useState<{ of: string; showing: Showing } | null>(null);
  useEffect(() => {
    if (key === null) return;
    const of = key;
    let since = 0;
    let heard = performance.now();
    let timer = 0;
    let standing = false;
    let ended = false;
    async function ask() {
      try {
        const page = await answer(api.GET("/shown", { params: { query: { since, instrument: of } } }));
        const last = page.shown.at(-1);
        since = page.upto;
        if (ended) return;
        if (last) {
          heard = performance.now();
          standing = last.steady;
          setShown({ of, showing: { value: last.value, steady: last.steady, t: last.t, gone: false } });
        }
      } catch {
        // no connection is as good as a silent instrument: typing goes on
      }
      if (ended) return;
      if (performance.now() - heard > GONE_AFTER_MS) setShown((before) => before && { ...before, showing: { ...before.showing, gone: true } });
      timer = window.setTimeout(() => void ask(), standing ? ASK_STANDING_MS : ASK_EVERY_MS);
    }
    void ask();
    return () => {
      ended = true;
      window.clearTimeout(timer);
    };
  }, [key]);
  return shown !== null && shown.of === key ? shown.showing : null;
}
