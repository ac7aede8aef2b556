import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { answer, api, type Schemas } from "../../../shared/api/client";
import { useUnits } from "../../../shared/format/units";
import { MassField } from "../../../ui/quantity-fields";
import { SheetDialog } from "../../../ui/sheet-dialog";
import { Waiting } from "../../../ui/waiting";
import { untilSaid } from "./until";

type Use = Schemas["GlutUse"];

const MOST_G = 1_000_000;

const HEADS: Record<Use["kind"], string> = {
  churned: "Churned now",
  "put up": "Put up",
  "frozen base": "Base, frozen",
};

/** A glut: how big a batch uses it up, or how it is split into what is churned, put up and frozen. */
export function GlutDialog({ lot, onClose }: { lot: Schemas["LotOut"]; onClose: () => void }) {
  const units = useUnits();
  const [shares, setShares] = useState<Schemas["GlutShare"][] | null>(null);
  const body = { ingredient: lot.ingredient ?? "", grams: lot.grams, shares };
  const glut = useQuery({
    queryKey: ["lots", "glut", JSON.stringify(body)],
    queryFn: ({ signal }) => answer(api.POST("/gluts", { body, signal })),
    placeholderData: keepPreviousData,
  });
  return (
    <SheetDialog open onOpenChange={(open) => !open && onClose()} title={`${units.mass(lot.grams)} ${lot.name}`} explanation={untilSaid(lot, units)} wide>
      <Waiting query={glut}>{(found) => <Split found={found} change={setShares} />}</Waiting>
    </SheetDialog>
  );
}

function Split({ found, change }: { found: Schemas["GlutOut"]; change: (shares: Schemas["GlutShare"][]) => void }) {
  const units = useUnits();
  if (found.uses.length === 0) return <p>Nothing here is made of it yet: begin a mix or a preparation with it.</p>;
  const set = (key: string, grams: number) => change(found.uses.map((use) => ({ key: use.key, grams: use.key === key ? grams : use.grams })));
  const over = found.left_g < -0.5;
  return (
    <div className="grid gap-3">
      {(Object.keys(HEADS) as Use["kind"][]).map((kind) => {
        const uses = found.uses.filter((use) => use.kind === kind);
        if (uses.length === 0) return null;
        return (
          <section key={kind} aria-label={HEADS[kind]}>
            <h3 className="font-semibold">{HEADS[kind]}</h3>
            {kind === "frozen base" && <p className="text-sm text-muted">Cool it fast, freeze it flat; once thawed it is churned within 24 hours and never frozen as base again.</p>}
            {uses.map((use) => (
              <div key={use.key} className="grid grid-cols-[9rem_1fr] items-end gap-4 border-t border-line py-1.5">
                <MassField label={use.name} grams={use.grams} range={{ least: 0, most: MOST_G }} onChange={(grams) => set(use.key, grams)} />
                <Comes use={use} />
              </div>
            ))}
          </section>
        );
      })}
      <p role="status" className={over ? "font-semibold text-hot" : "text-muted"}>
        {over ? `That is ${units.mass(-found.left_g)} more than there is.` : found.left_g > 0.5 ? `${units.mass(found.left_g)} is left over.` : "All of it has a place."}
      </p>
    </div>
  );
}

function Comes({ use }: { use: Use }) {
  const units = useUnits();
  if (use.grams <= 0) return <p className="pb-1.5 text-muted">nothing</p>;
  const litres = use.makes_l > 0 ? `, ${units.number(use.makes_l, 1)} L` : "";
  const keeps = use.keeps_days === null ? "" : `; keeps ${use.keeps_days} days`;
  return (
    <p className="pb-1.5">
      makes <b>{units.mass(use.makes_g)}</b>
      {litres}
      {keeps}
      {use.mix !== null && (
        <>
          {". "}
          <Link className="underline" to={`/bench/${use.mix}`}>
            To the Bench
          </Link>
        </>
      )}
    </p>
  );
}
