import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { MoreHorizontal } from "lucide-react";
import { useState } from "react";

import { answer, api, once, type Schemas } from "../../shared/api/client";
import { originsQuery, placesQuery, tubsOfBatchQuery } from "../../shared/api/queries";
import { readNumber } from "../../shared/format/numbers";
import { useUnits } from "../../shared/format/units";
import { Button } from "../../ui/button";
import { FaultOfAll, Field } from "../../ui/field";
import { Checkbox } from "../../ui/checkbox";
import { Menu, MenuItem } from "../../ui/menu";
import { Select } from "../../ui/select";
import { Waiting } from "../../ui/waiting";

type Tub = Schemas["PackedTub"];

/** The tubs of a batch: each with a code that people can say, where it stands and what happened to it. */
export function Tubs({ batchId }: { batchId: number }) {
  const tubs = useQuery(tubsOfBatchQuery(batchId));
  const [open, setOpen] = useState<"aside" | "origins" | null>(null);
  return (
    <section aria-labelledby="tubs" className="panel not-on-paper grid gap-2 p-4">
      <h2 id="tubs" className="text-base">
        Tubs
      </h2>
      <Waiting query={tubs}>
        {(all) => (
          <>
            <ul className="grid">
              {all.map((tub) => (
                <TubRow key={tub.id} tub={tub} />
              ))}
            </ul>
            <Pack batchId={batchId} />
            <div className="flex flex-wrap gap-2">
              {open !== "aside" && <Button onClick={() => setOpen("aside")}>Put base aside…</Button>}
              {open !== "origins" && <Button onClick={() => setOpen("origins")}>What is in them?</Button>}
            </div>
            {open === "aside" && <PutAside batchId={batchId} done={() => setOpen(null)} />}
            {open === "origins" && <Origins batchId={batchId} />}
          </>
        )}
      </Waiting>
    </section>
  );
}

function useTubEvent(tub: Tub) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (event: Schemas["NewTubEvent"]) => answer(api.POST("/tubs/{tub_id}/events", { params: { path: { tub_id: tub.id } }, body: event, ...once(crypto.randomUUID()) })),
    onSuccess: () => client.invalidateQueries(tubsOfBatchQuery(tub.batch_id)),
  });
}

function TubRow({ tub }: { tub: Tub }) {
  const units = useUnits();
  const places = useQuery(placesQuery);
  const happen = useTubEvent(tub);
  const [asking, setAsking] = useState<"sold" | "destroyed" | null>(null);
  const [text, setText] = useState("");
  const gone = tub.state === "finished" || tub.state === "sold" || tub.state === "destroyed";
  const last = tub.events.at(-1);
  const where = gone ? [tub.state, last?.to && `to ${last.to}`, last?.why, last && units.day(last.at)].filter(Boolean).join(", ") : [tub.place ?? "no place", tub.state === "opened" && "open"].filter(Boolean).join(", ");
  const note = (event: Partial<Schemas["NewTubEvent"]> & Pick<Schemas["NewTubEvent"], "kind">) => happen.mutate({ to: "", why: "", ...event }, { onSuccess: () => setAsking(null) });
  return (
    <li className="border-t border-line py-1">
      <div className="grid grid-cols-[7.5rem_1fr_auto] items-center gap-2">
        <b className={gone ? "text-muted" : ""}>{tub.code}</b>
        <span>
          <span className="sr-only">{tub.said}, </span>
          {units.number(tub.ml)} ml, {units.mass(tub.grams)} <span className="text-muted">{where}</span>
        </span>
        {!gone && (
          <Menu label={`What happened to ${tub.code}`} trigger={<MoreHorizontal size={18} aria-hidden />}>
            {tub.state === "closed" && <MenuItem onSelect={() => note({ kind: "opened" })}>Opened</MenuItem>}
            <MenuItem onSelect={() => note({ kind: "finished" })}>Finished</MenuItem>
            {(places.data ?? []).filter((place) => place.name !== tub.place).map((place) => (
              <MenuItem key={place.id} onSelect={() => note({ kind: "moved", place: place.id })}>
                Moved to {place.name}
              </MenuItem>
            ))}
            <MenuItem onSelect={() => setAsking("sold")}>Sold…</MenuItem>
            <MenuItem onSelect={() => setAsking("destroyed")}>Destroyed…</MenuItem>
          </Menu>
        )}
      </div>
      {asking && (
        <form
          className="flex items-end gap-2 pt-1"
          onSubmit={(event) => {
            event.preventDefault();
            note(asking === "sold" ? { kind: "sold", to: text } : { kind: "destroyed", why: text });
          }}
        >
          <Field label={asking === "sold" ? "Sold to" : "Why"} autoFocus value={text} maxLength={120} onChange={(event) => setText(event.target.value)} />
          <Button type="submit" kind="dark" disabled={text.trim() === ""}>
            Note it
          </Button>
        </form>
      )}
      <FaultOfAll error={happen.error} />
    </li>
  );
}

function Pack({ batchId }: { batchId: number }) {
  const client = useQueryClient();
  const places = useQuery(placesQuery);
  const [typed, setTyped] = useState({ count: "1", ml: "500", place: "", bestBefore: "" });
  const change = (changes: Partial<typeof typed>) => setTyped({ ...typed, ...changes });
  const [count, ml] = [readNumber(typed.count), readNumber(typed.ml)];
  const pack = useMutation({
    mutationFn: () =>
      answer(
        api.POST("/batches/{batch_id}/tubs", {
          params: { path: { batch_id: batchId } },
          body: { count: count ?? 0, ml: ml ?? 0, place: typed.place ? Number(typed.place) : null, best_before: typed.bestBefore || null },
          ...once(crypto.randomUUID()),
        }),
      ),
    onSuccess: async (all) => {
      client.setQueryData(tubsOfBatchQuery(batchId).queryKey, all);
      await client.invalidateQueries(originsQuery(batchId));
    },
  });
  return (
    <form
      aria-label="Fill tubs"
      className="grid grid-cols-2 items-end gap-2 sm:grid-cols-[4rem_5rem_1fr_9.5rem]"
      onSubmit={(event) => {
        event.preventDefault();
        pack.mutate();
      }}
    >
      <Field label="Tubs" value={typed.count} inputMode="numeric" maxLength={2} onChange={(event) => change({ count: event.target.value })} />
      <Field label="of ml" value={typed.ml} inputMode="decimal" maxLength={6} onChange={(event) => change({ ml: event.target.value })} />
      <Select label="into" value={typed.place} options={[{ key: "", name: "no place" }, ...(places.data ?? []).map((place) => ({ key: String(place.id), name: place.name }))]} onChange={(place) => change({ place })} />
      <Field label="best before" type="date" value={typed.bestBefore} onChange={(event) => change({ bestBefore: event.target.value })} />
      <Button type="submit" kind="dark" className="col-span-2 justify-self-start sm:col-span-4" disabled={pack.isPending || !count || !ml}>
        {count === 1 ? "This tub is filled" : "These tubs are filled"}
      </Button>
      <FaultOfAll error={pack.error} />
    </form>
  );
}

/** Base that is not churned today: it becomes a lot of its own in the house. */
function PutAside({ batchId, done }: { batchId: number; done: () => void }) {
  const client = useQueryClient();
  const [typed, setTyped] = useState({ amount: "", bestBefore: "", frozen: false });
  const keep = useMutation({
    mutationFn: () =>
      answer(
        api.POST("/batches/{batch_id}/bases", {
          params: { path: { batch_id: batchId } },
          body: { typed: typed.amount, best_before: typed.bestBefore || null, frozen: typed.frozen, note: "" },
          ...once(crypto.randomUUID()),
        }),
      ),
    onSuccess: async () => {
      await Promise.all([client.invalidateQueries({ queryKey: ["lots"] }), client.invalidateQueries(originsQuery(batchId))]);
      done();
    },
  });
  return (
    <form
      aria-label="Put base aside"
      className="flex flex-wrap items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate();
      }}
    >
      <Field label="How much base" autoFocus value={typed.amount} maxLength={60} placeholder="600 g" onChange={(event) => setTyped({ ...typed, amount: event.target.value })} />
      <Field label="best before" type="date" value={typed.bestBefore} onChange={(event) => setTyped({ ...typed, bestBefore: event.target.value })} />
      <Checkbox checked={typed.frozen} onChange={(frozen) => setTyped({ ...typed, frozen })}>
        frozen
      </Checkbox>
      <Button type="submit" kind="dark" disabled={keep.isPending || typed.amount.trim() === ""}>
        It is in the house
      </Button>
      <FaultOfAll error={keep.error} />
    </form>
  );
}

/** Every lot that is in the tubs of a batch, at any depth, and what came of the mass that went in. */
function Origins({ batchId }: { batchId: number }) {
  const units = useUnits();
  const origins = useQuery(originsQuery(batchId));
  return (
    <Waiting query={origins}>
      {(found) => (
        <div className="grid gap-1">
          {found.lots.map((lot) => (
            <p key={lot.id}>
              <b>{units.mass(lot.grams)}</b> {lot.name}{" "}
              <span className="text-muted">{[lot.code && `lot ${lot.code}`, lot.supplier, `came on ${units.day(lot.came_on)}`].filter(Boolean).join(", ")}</span>
            </p>
          ))}
          {found.batches.map((batch) => (
            <p key={batch.id}>
              Base of batch {batch.number}, {batch.mix_name}
            </p>
          ))}
          {found.unknown.length > 0 && <p className="text-muted">Of no known lot: {found.unknown.join(", ")}.</p>}
          <p className="text-muted">
            {units.mass(found.balance.in_g)} went in, {units.mass(found.balance.out_g)} are in tubs or put aside
            {found.balance.gap_g > 0 && `; ${units.mass(found.balance.gap_g)} boiled off, stuck, or were not noted`}.
          </p>
        </div>
      )}
    </Waiting>
  );
}
