import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, faultAt, ifMatch, type Schemas } from "../../../shared/api/client";
import { useKitchen } from "../../../shared/api/kitchen";
import { lotQuery, shelfChanged } from "../../../shared/api/queries";
import { useUnits } from "../../../shared/format/units";
import { Button } from "../../../ui/button";
import { FaultOfAll, Field } from "../../../ui/field";
import { Select } from "../../../ui/select";
import { SheetDialog } from "../../../ui/sheet-dialog";
import { Waiting } from "../../../ui/waiting";
import { LotTrace } from "./lot-trace";
import { isUrgent, untilSaid } from "./until";

type Lot = Schemas["LotDetail"];

/** One lot: until when it is good, what happened to it and where it went. */
export function LotDialog({ id, onClose }: { id: number; onClose: () => void }) {
  const lot = useQuery(lotQuery(id));
  return (
    <SheetDialog open onOpenChange={(open) => !open && onClose()} title={lot.data ? lot.data.name : "A lot"} wide>
      <Waiting query={lot}>{(known) => <LotSheet lot={known} />}</Waiting>
    </SheetDialog>
  );
}

function LotSheet({ lot }: { lot: Lot }) {
  const units = useUnits();
  const { currency } = useKitchen();
  const said = [
    `${lot.typed} came on ${units.day(lot.came_on)}${lot.supplier ? ` from ${lot.supplier}` : ""}${lot.arrived_c === null ? "" : ` at ${units.setting(lot.arrived_c)}`}`,
    lot.origin && `of ${lot.origin}`,
    lot.code && `lot ${lot.code}`,
    lot.price !== null && `${units.number(lot.price, 2)} ${currency}`,
    lot.brix !== null && `${units.number(lot.brix, 1)} °Brix`,
    lot.opened_on && `opened ${units.day(lot.opened_on)}`,
    lot.state,
    lot.note,
  ].filter(Boolean);
  return (
    <div className="grid gap-4">
      <div>
        <p className="text-lg">
          <b>{units.mass(lot.grams)}</b> there <span className={isUrgent(lot) ? "font-semibold text-hot" : ""}>{untilSaid(lot, units)}</span>
        </p>
        <p className="text-muted">{said.join("; ")}.</p>
      </div>
      <Now lot={lot} />
      <Note lot={lot} />
      <History lot={lot} />
      <LotTrace lot={lot} />
    </div>
  );
}

/** What is done to a lot by one press. */
function Now({ lot }: { lot: Lot }) {
  const client = useQueryClient();
  const change = useMutation({
    mutationFn: (body: Schemas["LotChange"]) => answer(api.PATCH("/lots/{lot_id}", { params: { path: { lot_id: lot.id } }, body, ...ifMatch(lot.version) })),
    onSuccess: () => shelfChanged(client),
  });
  const today = useUnits().today();
  return (
    <div className="flex flex-wrap items-center gap-2">
      <Button disabled={change.isPending} onClick={() => change.mutate({ opened_on: lot.opened_on ? null : today })}>
        {lot.opened_on ? "It is not open" : "Opened today"}
      </Button>
      <Button disabled={change.isPending} onClick={() => change.mutate({ thawed: !lot.thawed_at })}>
        {lot.thawed_at ? "It was not thawed" : "Out of the freezer now"}
      </Button>
      {lot.thawed_at && <p className="text-muted">Thawed in the fridge it is good for 24 hours, and never frozen again.</p>}
      <FaultOfAll error={change.error} />
    </div>
  );
}

const KINDS = [
  { key: "counted", name: "there is, as counted" },
  { key: "wasted", name: "wasted or spilled" },
  { key: "returned", name: "sent back" },
  { key: "disposed", name: "thrown away" },
];

const PAST: Record<Schemas["MovementOut"]["kind"], string> = {
  received: "came in",
  used: "used",
  wasted: "wasted",
  counted: "counted",
  returned: "sent back",
  disposed: "thrown away",
};

function Note({ lot }: { lot: Lot }) {
  const client = useQueryClient();
  const [kind, setKind] = useState<Schemas["NewMovement"]["kind"]>("counted");
  const [typed, setTyped] = useState("");
  const [why, setWhy] = useState("");
  const note = useMutation({
    mutationFn: () => answer(api.POST("/lots/{lot_id}/movements", { params: { path: { lot_id: lot.id } }, body: { kind, typed, why } })),
    onSuccess: async () => {
      setTyped("");
      setWhy("");
      await shelfChanged(client);
    },
  });
  return (
    <form
      aria-label="Note what happened"
      className="grid items-end gap-2 sm:grid-cols-[12rem_7rem_1fr_auto]"
      onSubmit={(event) => {
        event.preventDefault();
        note.mutate();
      }}
    >
      <Select label="What happened" value={kind} options={KINDS} onChange={(key) => setKind(key as typeof kind)} />
      <Field label="How much" value={typed} maxLength={60} placeholder="470 g" onChange={(event) => setTyped(event.target.value)} />
      <Field label="Why" value={why} maxLength={200} onChange={(event) => setWhy(event.target.value)} />
      <Button type="submit" kind="dark" disabled={note.isPending || typed.trim() === ""}>
        Note it
      </Button>
      {note.error && (
        <p role="alert" className="text-hot sm:col-span-4">
          {note.error.message}
        </p>
      )}
    </form>
  );
}

function History({ lot }: { lot: Lot }) {
  const [mending, setMending] = useState<number | null>(null);
  return (
    <section aria-labelledby="lot-history">
      <h3 id="lot-history" className="font-semibold">
        What happened
      </h3>
      <ol className="grid">
        {lot.movements.map((movement) => (
          <li key={movement.id} className="border-t border-line py-1">
            <MovementLine movement={movement} mend={movement.corrects === null ? () => setMending(mending === movement.id ? null : movement.id) : undefined} />
            {mending === movement.id && <Mend movement={movement} done={() => setMending(null)} />}
          </li>
        ))}
      </ol>
    </section>
  );
}

function MovementLine({ movement, mend }: { movement: Schemas["MovementOut"]; mend: (() => void) | undefined }) {
  const units = useUnits();
  const sign = movement.grams > 0 ? "+" : "";
  const where = movement.batch !== null ? `in batch ${movement.batch}` : movement.into ? `for ${movement.into}` : "";
  const figure = movement.counted_g === null ? "" : ` ${units.mass(movement.counted_g)}`;
  const what = movement.corrects === null ? `${PAST[movement.kind]}${figure}` : `set right: ${PAST[movement.kind]}${figure}`;
  const said = [`${what} ${where}`.trim(), movement.why].filter(Boolean);
  return (
    <div className="grid grid-cols-[6rem_1fr_auto] gap-x-3">
      <b className="text-right">
        {sign}
        {units.mass(movement.grams)}
      </b>
      <span>
        {said.join(", ")} <span className="text-muted">{[units.day(movement.at), movement.by].filter(Boolean).join(", ")}</span>
      </span>
      {mend && (
        <button type="button" className="text-sm text-muted underline" onClick={mend}>
          set right
        </button>
      )}
    </div>
  );
}

function Mend({ movement, done }: { movement: Schemas["MovementOut"]; done: () => void }) {
  const client = useQueryClient();
  const [typed, setTyped] = useState("");
  const [why, setWhy] = useState("");
  const mend = useMutation({
    mutationFn: () => answer(api.POST("/movements/{movement_id}/corrections", { params: { path: { movement_id: movement.id } }, body: { typed, why } })),
    onSuccess: async () => {
      await shelfChanged(client);
      done();
    },
  });
  return (
    <form
      aria-label="Set it right"
      className="mt-1 grid items-end gap-2 sm:grid-cols-[7rem_1fr_auto]"
      onSubmit={(event) => {
        event.preventDefault();
        mend.mutate();
      }}
    >
      <Field label="It was" value={typed} autoFocus maxLength={60} onChange={(event) => setTyped(event.target.value)} error={faultAt(mend.error, "/typed")} />
      <Field label="Why it was wrong" value={why} maxLength={200} onChange={(event) => setWhy(event.target.value)} error={faultAt(mend.error, "/why")} />
      <Button type="submit" kind="dark" disabled={mend.isPending || typed.trim() === "" || why.trim() === ""}>
        Set right
      </Button>
      <FaultOfAll error={mend.error} />
    </form>
  );
}
