import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, faultAt, type Schemas } from "../../shared/api/client";
import { shelfChanged, stockQuery } from "../../shared/api/queries";

import { Button } from "../../ui/button";
import { FaultOfAll, Field } from "../../ui/field";
import { Select } from "../../ui/select";
import { type Units, useUnits } from "../../shared/format/units";

const SOON_DAYS = 4;

/** What is in the house, what must be used first on top; not shown while nothing is noted. */
export function InTheHouse() {
  const client = useQueryClient();
  const units = useUnits();
  const stock = useQuery(stockQuery);
  const usedUp = useMutation({
    mutationFn: (id: number) => answer(api.DELETE("/stock/{stock_id}", { params: { path: { stock_id: id } } })),
    onSuccess: () => shelfChanged(client),
  });
  if (!stock.data || stock.data.length === 0) return null;
  return (
    <section aria-labelledby="in-the-house" className="panel px-4 py-3">
      <h2 id="in-the-house">In the house</h2>
      <ul className="mt-1 flex flex-wrap gap-x-8 gap-y-1">
        {stock.data.map((entry) => (
          <li key={entry.id} className="flex flex-wrap items-baseline gap-x-2">
            <b>{entry.typed}</b> {entry.name}
            {entry.state && <span className="text-muted">{entry.state}</span>}
            {entry.until && <span className={isSoon(entry) ? "font-semibold text-hot" : "text-muted"}>{untilSaid(entry, units)}</span>}
            {entry.note && <span className="text-muted">{entry.note}</span>}
            <button type="button" className="text-sm text-muted underline" aria-label={`${entry.typed} ${entry.name} is used up`} onClick={() => usedUp.mutate(entry.id)}>
              used up
            </button>
          </li>
        ))}
      </ul>
      {usedUp.error && <p role="alert">{usedUp.error.message}</p>}
    </section>
  );
}

function isSoon(entry: Schemas["StockOut"]): boolean {
  return entry.days_left !== null && entry.days_left <= SOON_DAYS;
}

function untilSaid(entry: Schemas["StockOut"], units: Units): string {
  const left = entry.days_left ?? 0;
  if (left < 0) return `past its day since ${units.day(entry.until ?? "")}`;
  if (left === 0) return "must go today";
  if (left === 1) return "must go by tomorrow";
  const weekday = new Date(entry.until ?? "").toLocaleDateString("en-GB", { weekday: "long" });
  return left < 7 ? `until ${weekday}` : `until ${units.day(entry.until ?? "")}`;
}

/** Note an amount that came into the house. */
export function AddStock({ slug, states, done }: { slug: string; states: string[]; done: () => void }) {
  const client = useQueryClient();
  const [typed, setTyped] = useState("");
  const [until, setUntil] = useState("");
  const [state, setState] = useState("");
  const [note, setNote] = useState("");
  const add = useMutation({
    mutationFn: () => answer(api.POST("/stock", { body: { ingredient: slug, typed, until: until || null, state, note } })),
    onSuccess: async () => {
      await shelfChanged(client);
      done();
    },
  });
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        add.mutate();
      }}
    >
      <Field label="How much" value={typed} required maxLength={60} placeholder="6 kg, 2 l, 30 eggs" onChange={(event) => setTyped(event.target.value)} error={faultAt(add.error, "/typed")} />
      <Field label="To be used by" type="date" value={until} onChange={(event) => setUntil(event.target.value)} error={faultAt(add.error, "/until")} />
      {states.length > 0 && (
        <Select
          label="State"
          value={state}
          options={[{ key: "", name: "not stated" }, ...states.map((name) => ({ key: name, name }))]}
          onChange={(key) => setState(key)}
        />
      )}
      <Field label="Note" value={note} maxLength={200} placeholder="from the neighbour’s tree" onChange={(event) => setNote(event.target.value)} error={faultAt(add.error, "/note")} />
      <FaultOfAll error={add.error} />
      <Button type="submit" kind="dark" disabled={add.isPending}>
        It is in the house
      </Button>
    </form>
  );
}
