import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";

import { answer, api, type Schemas } from "../../shared/api/client";
import { unbroken } from "../../shared/format/numbers";
import { useUnits } from "../../shared/format/units";
import { ring } from "../../shared/ring";
import { BigButton } from "./big-button";
import { type Instrument, instrumentOf, isWatched, type Showing, silenceOf, useInstruments, useShown } from "./instruments";
import { isDone, isRunning, type Step } from "./replay";
import { useWork } from "./use-making";
import { WatchCurve } from "./watch-curve";

type Watched = Schemas["WatchOut"];
type Reading = Schemas["ReadingOut"];

const ASK_EVERY_MS = 2000;
const ASK_OFTEN_MS = 700;
const BEGIN_FIRST = /^(churn|cool|harden|prefreeze)$/;

/** What the probe shows at a step, and what it logs of it. */
export type Probed = { instrument: Instrument; shown: Showing | null; watched: Watched | null };

/** The probe of a step; null where none is connected, or the step needs none. */
export function useProbe(step: Step): Probed | null {
  const { making, state } = useWork();
  const instrument = instrumentOf(step, useInstruments());
  const begun = !BEGIN_FIRST.test(step.kind) || isRunning(step, state) || isDone(step, state);
  const there = !step.weighing && instrument !== null && (begun || step.readings.length > 0);
  const shown = useShown(there && instrument.connected ? instrument.key : null);
  const watches = there && isWatched(step) && begun;
  const watched = useWatch(making.id, step, watches, isDone(step, state), instrument?.speed ?? 1);
  return there ? { instrument, shown, watched } : null;
}

/** Where what is logged of a step is kept on this page. */
export function watchKey(batch: number, step: string): readonly unknown[] {
  return ["watch", batch, step];
}

function useWatch(batch: number, step: Step, on: boolean, done: boolean, speed: number): Watched | null {
  const client = useQueryClient();
  const key = watchKey(batch, step.id);
  const path = { params: { path: { batch_id: batch, step: step.id } } };
  const begin = useMutation({
    mutationFn: () => answer(api.POST("/batches/{batch_id}/steps/{step}/watch", path)),
    onSuccess: (watched) => client.setQueryData(key, watched),
  });
  const { mutate } = begin;
  useEffect(() => {
    if (on && !done) mutate();
  }, [on, done, mutate, step.id]);
  const found = useQuery({
    queryKey: key,
    queryFn: () => answer(api.GET("/batches/{batch_id}/steps/{step}/watch", path)),
    enabled: on,
    refetchInterval: done ? false : speed > 1 ? ASK_OFTEN_MS : ASK_EVERY_MS,
  });
  return found.data ?? null;
}

/** The temperature now, what it means, and its curve. */
export function WatchView({ step, probed }: { step: Step; probed: Probed }) {
  const units = useUnits();
  const { shown, watched, instrument } = probed;
  useCall(watched);
  if (!instrument.connected || shown?.gone) {
    return (
      <p role="status" className="text-lg font-semibold">
        {silenceOf(instrument)} Read by eye and type it; it goes on as soon as it is back.
      </p>
    );
  }
  if (!shown) return null;
  const ice = watched?.frozen_pct && step.kind === "churn" ? `, ${units.number(watched.frozen_pct)} % ice` : "";
  return (
    <section aria-label="Probe" className="grid gap-2">
      <div className="flex flex-wrap items-center gap-x-6 gap-y-2">
        <p className="font-name text-6xl font-bold tabular-nums" data-shown>
          {units.temperature(shown.value)}
          {ice}
        </p>
        <NoteIt step={step} shown={shown} />
      </div>
      {watched?.quiet && (
        <p role="status" className="border-l-4 border-hot pl-3 text-lg font-semibold">
          {watched.quiet}
        </p>
      )}
      {watched?.alarm && (
        <p role="alert" className="border-l-4 border-hot pl-3 text-xl font-semibold">
          {unbroken(watched.alarm)}
        </p>
      )}
      {(watched?.said || watched?.beside) && (
        <p className="max-w-[46rem] text-2xl" aria-live="polite" data-watch-said>
          {watched.said && <b>{unbroken(watched.said)}</b>} <span className="text-muted">{unbroken(watched.beside)}</span>
        </p>
      )}
      {watched && <WatchCurve watched={watched} over={step.title} height={step.kind === "churn" ? 256 : 176} />}
    </section>
  );
}

/** Ring once when something is wrong, and once when it is to be taken out. */
function useCall(watched: Watched | null): void {
  const calls = watched !== null && !watched.ended && (watched.alarm !== "" || (watched.left_min !== null && watched.left_min < 0.5));
  useEffect(() => {
    if (calls) ring();
  }, [calls]);
}

/** Keep what the probe shows as the step's reading: one press, and by itself when the step is done. */
function NoteIt({ step, shown }: { step: Step; shown: Showing }) {
  const { press, state } = useWork();
  const units = useUnits();
  const reading = firstTemperature(step);
  if (!reading) return null;
  const kept = state.steps[step.id]?.readings[reading.key];
  return (
    <BigButton onClick={() => press(noted(step, reading, shown))}>
      {kept === undefined || kept === null ? "Note" : "Note again"} {units.temperature(shown.value)}
    </BigButton>
  );
}

export function firstTemperature(step: Step): Reading | null {
  return step.readings.find(({ unit }) => unit === "°C") ?? null;
}

export function noted(step: Step, reading: Reading, shown: Showing) {
  return { kind: "read" as const, step: step.id, name: reading.key, text: "", number: shown.value };
}
