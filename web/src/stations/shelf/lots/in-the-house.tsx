import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useState } from "react";

import type { Schemas } from "../../../shared/api/client";
import { lotsQuery } from "../../../shared/api/queries";
import { useUnits } from "../../../shared/format/units";
import { Button } from "../../../ui/button";
import { isUrgent, untilSaid } from "./until";

const LotDialog = lazy(() => import("./lot-dialog").then(({ LotDialog }) => ({ default: LotDialog })));
const ReceiveDialog = lazy(() => import("./receive-dialog").then(({ ReceiveDialog }) => ({ default: ReceiveDialog })));
const DeliveryDialog = lazy(() => import("./delivery-dialog").then(({ DeliveryDialog }) => ({ default: DeliveryDialog })));
const CountDialog = lazy(() => import("./count-dialog").then(({ CountDialog }) => ({ default: CountDialog })));
const GlutDialog = lazy(() => import("./glut-dialog").then(({ GlutDialog }) => ({ default: GlutDialog })));

const SHOWN = 5;

type Lot = Schemas["LotOut"];
type Open = { what: "receive" | "delivery" | "count" } | { what: "lot"; id: number } | { what: "glut"; lot: Lot } | null;

/** What is in the house, what must be used first on top, and what comes in or is counted. */
export function InTheHouse() {
  const lots = useQuery(lotsQuery);
  const [open, setOpen] = useState<Open>(null);
  const [all, setAll] = useState(false);
  const close = () => setOpen(null);
  const there = lots.data ?? [];
  const shown = all ? there : there.slice(0, SHOWN);
  return (
    <section aria-labelledby="in-the-house" className="panel px-4 py-3">
      <div className="flex flex-wrap items-center gap-2">
        <h2 id="in-the-house" className="mr-auto">
          In the house
        </h2>
        {there.length > 0 && <Button onClick={() => setOpen({ what: "count" })}>Take stock…</Button>}
        <Button onClick={() => setOpen({ what: "delivery" })}>Delivery list…</Button>
        <Button kind="dark" onClick={() => setOpen({ what: "receive" })}>
          Take in…
        </Button>
      </div>
      {lots.data && there.length === 0 && <p className="mt-1 text-muted">Nothing is noted yet. What you take in is suggested while you weigh, what expires first first.</p>}
      <ul className="mt-1 grid">
        {shown.map((lot) => (
          <LotRow key={lot.id} lot={lot} look={() => setOpen({ what: "lot", id: lot.id })} useUp={() => setOpen({ what: "glut", lot })} />
        ))}
      </ul>
      {there.length > SHOWN && (
        <Button kind="quiet" className="mt-1" onClick={() => setAll(!all)}>
          {all ? "Only what must go first" : `All ${there.length}`}
        </Button>
      )}
      <Suspense>
        {open?.what === "lot" && <LotDialog id={open.id} onClose={close} />}
        {open?.what === "receive" && <ReceiveDialog onClose={close} />}
        {open?.what === "delivery" && <DeliveryDialog onClose={close} />}
        {open?.what === "count" && <CountDialog lots={there} onClose={close} />}
        {open?.what === "glut" && <GlutDialog lot={open.lot} onClose={close} />}
      </Suspense>
    </section>
  );
}

function LotRow({ lot, look, useUp }: { lot: Lot; look: () => void; useUp: () => void }) {
  const units = useUnits();
  const until = untilSaid(lot, units);
  const marks = [lot.origin, lot.supplier, lot.code && `lot ${lot.code}`, lot.brix !== null && `${units.number(lot.brix, 1)} °Bx`, lot.opened_on && "open", lot.thawed_at && "thawed", lot.state, lot.note].filter(Boolean);
  return (
    <li className="grid grid-cols-[5.5rem_1fr_auto] items-center gap-x-4 border-t border-line py-1 md:grid-cols-[5.5rem_minmax(10rem,16rem)_minmax(9rem,15rem)_1fr_auto]">
      <b className="text-right">{units.mass(lot.grams)}</b>
      <button type="button" className="text-left font-semibold underline decoration-line underline-offset-3 hover:decoration-current" onClick={look}>
        {lot.name}
      </button>
      <span className={`col-start-2 md:col-start-auto ${isUrgent(lot) ? "font-semibold text-hot" : "text-muted"}`}>{until}</span>
      <span className="col-start-2 min-w-0 truncate text-muted md:col-start-auto">{marks.join(", ")}</span>
      <span className="max-md:row-start-1 max-md:col-start-3">
        {lot.ingredient && isUrgent(lot) && !lot.blocked && <Button onClick={useUp}>Use it up…</Button>}
      </span>
    </li>
  );
}
