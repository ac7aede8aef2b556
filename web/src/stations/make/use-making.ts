import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";

import type { Schemas } from "../../shared/api/client";
import { makingQuery } from "../../shared/api/queries";
import { keyOf } from "../../shared/device-store";
import { keepOnDevice } from "../../shared/kept-on-device";
import { strictContext } from "../../shared/strict-context";
import { clockOf, type ServerClock } from "./clock";
import { deviceName, keepPress, type Refused, type Said, sendPresses, waitingPresses } from "./presses";
import { nextStep, type State, type Step, withPresses } from "./replay";

export type Making = Schemas["MakingOut"];

/** A batch at work: what is to be done, what was noted, and how to note more. */
export type Work = {
  making: Making;
  state: State;
  clock: ServerClock;
  step: Step | null;
  choose: (step: string | null) => void;
  /** Go on to what comes after a step. */
  goOn: (from: Step) => void;
  /** The line that was weighed last, of which the answer tells what its weight does. */
  weighedLast: number | null;
  press: (...said: Said[]) => void;
  undo: (() => void) | null;
  waiting: number;
  offline: boolean;
  refused: Refused[];
  forgetRefused: () => void;
};

export const [WorkContext, useWork] = strictContext<Work>("batch");

const TRY_AGAIN_MS = 3000;
const NEW_STEPS = /^(machine$|own\.)/; // another machine has steps of its own, and so has a cook

export function useMaking(batch: number) {
  return useQuery(makingQuery(batch));
}

export function useMakingWork(making: Making): Work {
  const client = useQueryClient();
  const [waiting, setWaiting] = useState(() => waitingPresses(making.id));
  const [offline, setOffline] = useState(false);
  const [refused, setRefused] = useState<Refused[]>([]);
  const [chosenId, setChosenId] = useState(() => sessionStorage.getItem(keyOf("step", making.id)));
  const choose = useCallback(
    (step: string | null) => {
      setChosenId(step);
      sessionStorage.setItem(keyOf("step", making.id), step ?? ""); // a reload comes back to where one was
    },
    [making.id],
  );
  const [weighedLast, setWeighedLast] = useState<number | null>(null);

  const send = useCallback(async () => {
    const another = waitingPresses(making.id).some((one) => one.kind === "chose" && NEW_STEPS.test(one.step ?? ""));
    const sent = await sendPresses(making.id).catch(() => null);
    if (sent === null) return; // refused as a whole: it stays on the device, and the next try says so again
    setOffline(sent.offline);
    if (sent.refused.length > 0) setRefused((before) => [...before, ...sent.refused]);
    const { state } = sent;
    if (state) {
      const key = makingQuery(making.id).queryKey;
      client.setQueryData(key, (before) => before && { ...before, state, closed: closedOf(state) });
      keepOnDevice(`making.${making.id}`, client.getQueryData(key));
    }
    setWaiting(waitingPresses(making.id));
    if (another && !sent.offline) void client.invalidateQueries({ queryKey: makingQuery(making.id).queryKey });
  }, [client, making.id]);

  useEffect(() => {
    const first = window.setTimeout(() => void send());
    const timer = window.setInterval(() => waitingPresses(making.id).length > 0 && void send(), TRY_AGAIN_MS);
    const again = () => void send();
    window.addEventListener("online", again);
    return () => {
      window.clearTimeout(first);
      window.clearInterval(timer);
      window.removeEventListener("online", again);
    };
  }, [send, making.id]);

  const press = useCallback(
    (...said: Said[]) => {
      for (const one of said) keepPress(making.id, one);
      const line = said.find((one) => one.kind === "weighed")?.line;
      if (line !== undefined) setWeighedLast(line);
      setWaiting(waitingPresses(making.id));
      void send();
    },
    [making.id, send],
  );

  const state = useMemo(() => withPresses(making.state, waiting), [making.state, waiting]);
  const clock = useMemo(() => clockOf(making.state.now), [making.state.now]);
  const step = making.steps.find((one) => one.id === chosenId) ?? nextStep(making.steps, state);
  const last = state.last[deviceName()];
  return {
    making,
    state,
    clock,
    step,
    choose,
    goOn: (from) => choose(nextStep(making.steps, withPresses(making.state, waitingPresses(making.id)), from.id)?.id ?? null),
    weighedLast,
    press,
    undo: last && last.kind !== "undone" ? () => press({ kind: "undone", undoes: last.key }) : null,
    waiting: waiting.length,
    offline,
    refused,
    forgetRefused: () => setRefused([]),
  };
}

function closedOf(state: State): Making["closed"] {
  return state.closed === "finished" || state.closed === "abandoned" ? state.closed : null;
}
