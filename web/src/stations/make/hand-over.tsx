import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";

import { addressOf, answer, api, asForm, type Schemas } from "../../shared/api/client";
import { photosQuery } from "../../shared/api/queries";
import { useOnce } from "../../shared/api/use-once";
import { unbroken } from "../../shared/format/numbers";
import { useUnits } from "../../shared/format/units";
import { FaultOfAll, Field } from "../../ui/field";
import { Tubs } from "../batches/tubs";
import { BigButton } from "./big-button";
import { useWork } from "./use-making";

type Point = Schemas["CriticalOut"];

/** The end of a batch: its critical points from the record, tubs, air by one cup, a photo, and what it will be like. */
export function HandOver() {
  const { making, state, press } = useWork();
  const units = useUnits();
  const figures = Object.entries(state.quantities);
  return (
    <section aria-label="Hand over" className="grid content-start gap-4 pb-6">
      <h1 className="text-4xl">Hand over batch {making.number}</h1>
      <div className="panel grid gap-1 p-4 text-lg">
        {state.verdict && <p className="font-semibold">{unbroken(state.verdict)}</p>}
        {state.effect && <p>As made, beside the plan: {unbroken(state.effect)}</p>}
        {state.otherwise.map((one) => (
          <p key={one}>{one}</p>
        ))}
        {state.added.length > 0 && <p>Went in beside the mix: {state.added.join("; ")}.</p>}
        {figures.length > 0 && <p className="text-muted">{figures.map(([key, value]) => said(key, value, units)).join(" · ")}</p>}
      </div>
      {making.cautions.map((caution) => (
        <p key={caution} className="border-l-4 border-hot pl-3 text-lg">
          {unbroken(caution)}
        </p>
      ))}
      <CriticalPoints points={state.critical} />
      <Overrun />
      <Tubs batchId={making.id} />
      <PhotosOfBatch batchId={making.id} />
      <div className="grid gap-3 sm:grid-cols-3">
        <BigButton kind="hot" disabled={state.closed !== null} onClick={() => press({ kind: "finished" })}>
          {state.closed === "abandoned" ? "Given up" : state.closed ? "Closed" : "Close the batch"}
        </BigButton>
        <Link to={`/batches/${making.id}`} className="grid min-h-16 place-items-center rounded-button border border-line bg-panel text-lg font-semibold">
          The sheet, to print
        </Link>
        <MakeAgain mix={making.mix_id} />
      </div>
    </section>
  );
}

/** The same mix as it is now, in its own size. */
function MakeAgain({ mix }: { mix: number }) {
  const navigate = useNavigate();
  const key = useOnce();
  const begin = useMutation({
    mutationFn: () => answer(api.POST("/mixes/{mix_id}/batches", { params: { path: { mix_id: mix } }, ...key(mix) })),
    onSuccess: (batch) => navigate(`/make/${batch.id}`),
  });
  return (
    <div className="grid gap-1">
      <BigButton disabled={begin.isPending} onClick={() => begin.mutate()}>
        Make it again
      </BigButton>
      <FaultOfAll error={begin.error} />
    </div>
  );
}

const SAID: Record<string, [string, string]> = {
  heated_c: ["heated to", "°C"],
  base_in_c: ["base at", "°C"],
  draw_c: ["taken out at", "°C"],
  aged_h: ["aged", "h"],
  harden_h: ["hard after", "h"],
  churn_ratio: ["churned, times the forecast", ""],
  fill_pct: ["machine filled", "%"],
  overrun_pct: ["air", "%"],
  temper_min: ["tempered", "min"],
  steep_h: ["steeped", "h"],
  steep_c: ["steeped at", "°C"],
};

function said(key: string, value: number, units: ReturnType<typeof useUnits>): string {
  const [name, unit] = SAID[key] ?? [key, ""];
  return unbroken(`${name} ${units.figure(value, unit, 1)}`);
}

function CriticalPoints({ points }: { points: Point[] }) {
  if (points.length === 0) return null;
  return (
    <section aria-label="Critical points" className="panel grid gap-2 p-4">
      <h2 className="text-xl">Critical points</h2>
      <ul className="grid gap-3">
        {points.map((point) => (
          <CriticalPoint key={point.key} point={point} />
        ))}
      </ul>
      <p className="text-sm text-muted">From what was noted, for guidance. Local codes and licensed practice go first.</p>
    </section>
  );
}

const STATES = { met: "met", open: "open", missed: "not met" };

function CriticalPoint({ point }: { point: Point }) {
  const { press } = useWork();
  const units = useUnits();
  const [why, setWhy] = useState<string | null>(null);
  const settled = point.state === "met" || point.released !== "";
  return (
    <li className="grid gap-1 text-lg">
      <p>
        <b>{point.name}</b>: <b className={settled ? "" : "text-hot"}>{STATES[point.state]}</b> · {unbroken(point.limit)}
        {point.noted && ` · ${unbroken(point.noted)}`}
        {point.by && ` · ${point.by}${point.at ? `, ${units.hour(Date.parse(point.at))}` : ""}`}
      </p>
      {point.released && (
        <p>
          Released by {point.signed_by}: {point.released}
        </p>
      )}
      {!point.released && point.signed_by && <p className="text-muted">Signed by {point.signed_by}</p>}
      <div className="flex flex-wrap items-end gap-2">
        {point.state === "met" && !point.signed_by && <BigButton onClick={() => press({ kind: "signed", name: point.key })}>Sign</BigButton>}
        {!settled && why === null && <BigButton onClick={() => setWhy("")}>Release it…</BigButton>}
        {!settled && why !== null && (
          <form
            className="flex flex-1 flex-wrap items-end gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              if (why.trim()) press({ kind: "released", name: point.key, text: why });
            }}
          >
            <Field label="Who answers for it, and why" value={why} maxLength={200} onChange={(event) => setWhy(event.target.value)} />
            <BigButton type="submit" disabled={!why.trim()}>
              Release
            </BigButton>
          </form>
        )}
      </div>
    </li>
  );
}

/** Air by one cup weighed twice: full of mix, and full of what came out of the machine. */
function Overrun() {
  const { state, press } = useWork();
  const units = useUnits();
  const [mix, setMix] = useState("");
  const [frozen, setFrozen] = useState("");
  return (
    <form
      className="panel flex flex-wrap items-end gap-3 p-4"
      aria-label="Air"
      onSubmit={(event) => {
        event.preventDefault();
        press({ kind: "overrun", text: mix, more: frozen });
      }}
    >
      <h2 className="w-full text-xl">Air, by one cup weighed twice</h2>
      <Field label={`Full of mix, ${units.massUnit}`} value={mix} maxLength={12} inputMode="decimal" onChange={(event) => setMix(event.target.value)} />
      <Field label={`Full of ice cream, ${units.massUnit}`} value={frozen} maxLength={12} inputMode="decimal" onChange={(event) => setFrozen(event.target.value)} />
      <BigButton type="submit" disabled={!mix.trim() || !frozen.trim()}>
        Work it out
      </BigButton>
      {state.overrun_pct !== null && <p className="w-full text-lg font-semibold">{unbroken(`${units.number(state.overrun_pct)} % of air`)}</p>}
    </form>
  );
}

function PhotosOfBatch({ batchId }: { batchId: number }) {
  const units = useUnits();
  const client = useQueryClient();
  const photos = useQuery(photosQuery(batchId));
  const add = useMutation({
    mutationFn: (file: File) => answer(api.POST("/batches/{batch_id}/photos", { params: { path: { batch_id: batchId } }, ...asForm(file) })),
    onSuccess: () => client.invalidateQueries(photosQuery(batchId)),
  });
  return (
    <section aria-label="Photos" className="panel grid gap-3 p-4">
      <h2 className="text-xl">Photos</h2>
      <div className="flex flex-wrap gap-3">
        {photos.data?.map((photo) => (
          <img key={photo.id} src={addressOf(`/photos/${photo.id}`)} alt={`The batch at ${units.hour(Date.parse(photo.at))}`} className="h-40 rounded-button" />
        ))}
      </div>
      <label className="grid min-h-16 cursor-pointer place-items-center rounded-button border border-line bg-panel text-lg font-semibold focus-within:outline">
        {add.isPending ? "One moment…" : "Add a photo"}
        <input
          type="file"
          accept="image/jpeg,image/png,image/webp"
          capture="environment"
          className="sr-only"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) add.mutate(file);
            event.target.value = "";
          }}
        />
      </label>
      <FaultOfAll error={add.error} />
    </section>
  );
}
