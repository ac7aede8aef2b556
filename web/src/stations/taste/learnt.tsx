import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { answer, api, type Schemas } from "../../shared/api/client";
import { learntQuery } from "../../shared/api/queries";
import { type Units, useUnits } from "../../shared/format/units";
import { Button, buttonClass } from "../../ui/button";
import { Field } from "../../ui/field";
import { StationHead } from "../../ui/frame";
import { Select } from "../../ui/select";
import { Track } from "../../ui/track";
import { Waiting } from "../../ui/waiting";
import { relearn } from "./relearn";

type Parameter = Schemas["ParameterOut"];
type Choice = Schemas["NewChoice"];

/** What the kitchen has learnt, before and after, with what it rests on; each can be pinned, forgotten, or lose an entry. */
export function LearntPage() {
  const learnt = useQuery({ ...learntQuery, refetchOnMount: "always" });
  return (
    <>
      <StationHead title="What Jalebi has learnt here">
        <Link to="/taste" className={buttonClass("plain")}>
          To taste
        </Link>
      </StationHead>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-3 px-4 pb-6 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
        <Waiting query={learnt}>{(found) => <Parameters found={found} />}</Waiting>
        <div className="grid gap-3">
          <Probe />
          <Waiting query={learnt}>{(found) => <Log found={found} />}</Waiting>
        </div>
      </div>
    </>
  );
}

function useChoice() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (choice: Choice) => answer(api.POST("/learnt/choices", { body: choice })),
    onSuccess: async (kept) => {
      await relearn(client);
      client.setQueryData(["learnt"], kept);
    },
  });
}

function Parameters({ found }: { found: Schemas["LearntOut"] }) {
  const choice = useChoice();
  if (found.parameters.length === 0) {
    return <p className="panel p-6">Nothing yet. Every card with a word for the scoop, every cup weighed twice and every night with the thermometer teaches something; what is learnt shows here first, and is used when it is sure enough.</p>;
  }
  return (
    <ul className="panel grid gap-4 p-4">
      {found.parameters.map((one) => (
        <li key={`${one.key} ${one.name}`}>
          <LearntRow one={one} />
          <p className="text-sm">{one.said}</p>
          <p className="flex flex-wrap gap-3 text-sm text-muted">
            <span>{one.in_use ? "in use" : one.pinned ? "your setting is kept" : "not used yet"}</span>
            <button type="button" className="underline" onClick={() => choice.mutate({ kind: one.pinned ? "unpin" : "pin", entry: "", parameter: one.key, of: one.of ?? "" })}>
              {one.pinned ? "use what is learnt" : "keep my setting"}
            </button>
            <button type="button" className="underline" onClick={() => choice.mutate({ kind: "forget", entry: "", parameter: one.key, of: "" })}>
              forget all up to today
            </button>
          </p>
        </li>
      ))}
    </ul>
  );
}

function figure(one: Parameter, value: number, units: Units): string {
  if (one.unit === "°C") return units.temperature(value);
  return `${one.unit === "×" ? "× " : ""}${units.number(value, one.unit === "×" ? 2 : 1)}${one.unit === "×" || one.unit === "F" ? "" : ` ${one.unit}`}`;
}

/** A figure before and after: where it was, where it is, and how sure that is. */
export function LearntRow({ one }: { one: Parameter }) {
  const units = useUnits();
  const ends = [one.low, one.high, one.was_low, one.was_high];
  const room = 0.08 * (Math.max(...ends) - Math.min(...ends)) || 1;
  const range = [Math.min(...ends) - room, Math.max(...ends) + room] as const;
  return (
    <>
      <div className="flex items-baseline justify-between gap-3">
        <b>{one.name}</b>
        <b>{figure(one, one.value, units)}</b>
      </div>
      <Track className="my-2" range={range} band={[one.low, one.high]} needles={[{ at: one.was, colour: "var(--muted)" }, { at: one.value, colour: "var(--needle)" }]} />
      <p className="text-sm text-muted">was {figure(one, one.was, units)}</p>
    </>
  );
}

const WHERE = [
  { key: "tub", name: "in a tub, overnight" },
  { key: "air", name: "in the freezer’s air" },
  { key: "ice-water", name: "in ice water" },
];

/** A night with the thermometer tells a warm freezer from a firm taste. */
function Probe() {
  const client = useQueryClient();
  const units = useUnits();
  const [where, setWhere] = useState("tub");
  const [typed, setTyped] = useState("");
  const celsius = units.readTemperature(typed);
  const keep = useMutation({
    mutationFn: () => answer(api.POST("/readings", { body: { where: where as Schemas["NewReading"]["where"], t_c: celsius ?? 0 } })),
    onSuccess: async (kept) => {
      await relearn(client);
      client.setQueryData(["learnt"], kept);
      setTyped("");
    },
  });
  return (
    <form
      aria-label="A reading"
      className="panel grid gap-3 p-4"
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate();
      }}
    >
      <h2 className="text-lg">A night with the thermometer</h2>
      <p className="text-sm text-muted">Check it in ice water first: what it shows there is taken off every reading.</p>
      <div className="grid grid-cols-[1fr_8rem_auto] items-end gap-3">
        <Select label="It was" value={where} options={WHERE} onChange={setWhere} />
        <Field label={`Showed, ${units.temperatureUnit}`} inputMode="text" value={typed} onChange={(event) => setTyped(event.target.value)} />
        <Button type="submit" disabled={celsius === null || keep.isPending}>
          Note it
        </Button>
      </div>
      {keep.error && (
        <p role="alert" className="text-hot">
          {keep.error.message}
        </p>
      )}
    </form>
  );
}

function Log({ found }: { found: Schemas["LearntOut"] }) {
  const units = useUnits();
  const choice = useChoice();
  if (found.entries.length === 0) return null;
  return (
    <section aria-label="What it rests on" className="panel p-4">
      <h2 className="text-lg">What it rests on</h2>
      <ul className="mt-2 grid gap-1 text-sm">
        {found.entries.map((entry) => (
          <li key={entry.id} className={`flex flex-wrap gap-x-3 ${entry.left_out ? "text-muted line-through" : ""}`}>
            <span className="text-muted">{units.day(entry.at)}</span>
            {entry.said}
            <button type="button" className="ml-auto underline" onClick={() => choice.mutate({ kind: entry.left_out ? "put-back" : "leave-out", entry: entry.id, parameter: "", of: "" })}>
              {entry.left_out ? "put it back" : "leave it out"}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
