import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, type Schemas } from "../../shared/api/client";
import { useKitchen } from "../../shared/api/kitchen";
import { listed, readNumber } from "../../shared/format/numbers";
import { useUnits } from "../../shared/format/units";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { NumberField } from "../../ui/quantity-fields";
import { SheetDialog } from "../../ui/sheet-dialog";
import { Waiting } from "../../ui/waiting";
import { useDraft } from "./bench-context";
import { bodyOf } from "./draft/draft";

type Sheet = Schemas["CostSheet"];
type Sold = { name: string; ml: string; packaging: string; price: string; margin: string };

const SPENT = { minutes: 0, per_hour: 0, energy_kwh: 0, energy_price: 0, vat_pct: 0 };
const SCOOP: Sold = { name: "scoop", ml: "65", packaging: "", price: "", margin: "65" };
const MOST_AIR_PCT = 200;
const AMOUNTS = { least: 0, most: 10_000 };

/** What a batch costs, line by line, with labour and energy; what is earned with it, and what would change it. */
export function CostDialog({ onClose }: { onClose: () => void }) {
  const { draft } = useDraft();
  const [spent, setSpent] = useState(SPENT);
  const [sold, setSold] = useState<Sold[]>([SCOOP]);
  const [line, setLine] = useState<number | null>(null);
  const [pricePct, setPricePct] = useState(10);
  const asDrafted = bodyOf(draft);
  const airier = asDrafted.overrun_pct == null ? null : Math.min(asDrafted.overrun_pct + 10, MOST_AIR_PCT);
  const body = { ...asDrafted, ...spent, sold: sold.flatMap(readSold), line, price_pct: pricePct, other_overrun_pct: airier };
  const sheet = useQuery({
    queryKey: ["analysis", "cost", JSON.stringify(body)],
    queryFn: ({ signal }) => answer(api.POST("/cost-sheets", { body, signal })),
    retry: false,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  return (
    <SheetDialog open onOpenChange={(open) => !open && onClose()} title="What it costs" wide>
      <Waiting query={sheet}>
        {(found) =>
          found ? (
            <div className="grid gap-4">
              <Sums sheet={found} />
              <Lines sheet={found} chosen={line} choose={setLine} />
              <WhatIf sheet={found} line={line} pricePct={pricePct} setPricePct={setPricePct} />
              <Spent spent={spent} change={(changes) => setSpent({ ...spent, ...changes })} />
              <SoldOf sheet={found} sold={sold} change={setSold} />
            </div>
          ) : (
            <p className="text-muted">Nothing in it has a price that you may see.</p>
          )
        }
      </Waiting>
    </SheetDialog>
  );
}

function readSold({ name, ml, packaging, price, margin }: Sold): Schemas["SoldIn"][] {
  const [volume, box] = [readNumber(ml), packaging.trim() === "" ? 0 : readNumber(packaging)];
  if (!volume || volume <= 0 || box === null || box < 0) return [];
  const asked = price.trim() === "" ? { margin_pct: readNumber(margin), price: null } : { price: readNumber(price), margin_pct: null };
  if (asked.price !== null && asked.price < 0) return [];
  if (asked.margin_pct !== null && asked.margin_pct > 99) return [];
  return [{ name, ml: volume, packaging: box, ...asked }];
}

function useMoney() {
  const units = useUnits();
  const { currency } = useKitchen();
  return (value: number | null) => (value === null ? "not known" : `${units.number(value, 2)}\u00a0${currency}`);
}

function Sums({ sheet }: { sheet: Sheet }) {
  const money = useMoney();
  const units = useUnits();
  return (
    <div>
      <p className="text-lg">
        <b>{money(sheet.per_litre)} a litre</b>, {money(sheet.per_kg)} a kilo, {money(sheet.batch)} the batch of {units.number(sheet.litres, 2)} L
      </p>
      {sheet.not_priced.length > 0 && (
        <p className="border-l-3 border-hot pl-2">
          {listed(sheet.not_priced)} {sheet.not_priced.length === 1 ? "has" : "have"} no price; what is priced comes to {money(sheet.at_least)}.
        </p>
      )}
    </div>
  );
}

function Lines({ sheet, chosen, choose }: { sheet: Sheet; chosen: number | null; choose: (line: number) => void }) {
  const money = useMoney();
  const units = useUnits();
  const most = Math.max(...sheet.lines.map((line) => line.cost ?? 0), 1e-9);
  const dearest = [...sheet.lines].sort((one, other) => (other.cost ?? -1) - (one.cost ?? -1));
  return (
    <table className="w-full">
      <caption className="sr-only">What each line costs, the dearest first</caption>
      <tbody>
        {dearest.map((line) => (
          <tr key={line.line} className={`border-t border-line ${line.line === chosen ? "bg-steel" : ""}`}>
            <th scope="row" className="py-0.5 text-left font-normal">
              <button type="button" aria-pressed={line.line === chosen} className="text-left" onClick={() => choose(line.line)}>
                {line.name}
              </button>
            </th>
            <td className="w-24 text-right text-muted">
              {units.mass(line.grams)}
              {line.bought_g - line.grams > 0.5 && <span className="sr-only">, {units.mass(line.bought_g)} bought</span>}
            </td>
            <td className="w-36 pl-4">
              <div className="h-2.5 rounded-sm bg-rail" style={{ width: `${(100 * (line.cost ?? 0)) / most}%` }} />
            </td>
            <td className="w-24 text-right">{line.cost === null ? "no price" : money(line.cost)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function WhatIf({ sheet, line, pricePct, setPricePct }: { sheet: Sheet; line: number | null; pricePct: number; setPricePct: (pct: number) => void }) {
  const money = useMoney();
  const name = sheet.lines.find((one) => one.line === line)?.name;
  const change = (by: number | null) => (by === null ? "changes by an amount nobody knows" : `${by >= 0 ? "+" : ""}${money(by)} a litre`);
  return (
    <div className="grid gap-1 text-muted">
      {name && sheet.if_priced ? (
        <div className="flex flex-wrap items-end gap-3">
          <div className="w-32">
            <NumberField label="Dearer by, %" value={pricePct} range={{ least: -100, most: 1000 }} onChange={setPricePct} />
          </div>
          <p className="pb-1.5">
            {name}: {change(sheet.if_priced.change_per_litre)}
          </p>
        </div>
      ) : (
        <p>Press a line to see what another price of it does.</p>
      )}
      {sheet.if_airy && <p>Ten points more air: {change(sheet.if_airy.change_per_litre)}, and lighter in the tub.</p>}
    </div>
  );
}

function Spent({ spent, change }: { spent: typeof SPENT; change: (changes: Partial<typeof SPENT>) => void }) {
  const { currency } = useKitchen();
  return (
    <fieldset className="grid grid-cols-2 gap-3 sm:grid-cols-5">
      <legend className="pb-1 font-semibold">Beside the ingredients</legend>
      <NumberField label="Minutes" value={spent.minutes} range={AMOUNTS} onChange={(minutes) => change({ minutes })} />
      <NumberField label={`${currency} an hour`} value={spent.per_hour} range={AMOUNTS} onChange={(per_hour) => change({ per_hour })} />
      <NumberField label="Energy, kWh" value={spent.energy_kwh} range={AMOUNTS} onChange={(energy_kwh) => change({ energy_kwh })} />
      <NumberField label={`${currency} a kWh`} value={spent.energy_price} range={AMOUNTS} onChange={(energy_price) => change({ energy_price })} />
      <NumberField label="Tax on sales, %" value={spent.vat_pct} range={{ least: 0, most: 100 }} onChange={(vat_pct) => change({ vat_pct })} />
    </fieldset>
  );
}

function SoldOf({ sheet, sold, change }: { sheet: Sheet; sold: Sold[]; change: (sold: Sold[]) => void }) {
  const money = useMoney();
  const units = useUnits();
  const set = (at: number, changes: Partial<Sold>) => change(sold.map((one, other) => (other === at ? { ...one, ...changes } : one)));
  let counted = 0;
  return (
    <fieldset className="grid gap-2">
      <legend className="pb-1 font-semibold">Sold</legend>
      {sold.map((one, at) => {
        const found = readSold(one).length > 0 ? sheet.sold[counted++] : undefined;
        return (
          <div key={at} className="grid gap-1 border-t border-line pt-1">
            <div className="grid grid-cols-2 gap-2 sm:grid-cols-5">
              <Field label="As" value={one.name} maxLength={80} onChange={(event) => set(at, { name: event.target.value })} />
              <Field label="ml" value={one.ml} inputMode="decimal" maxLength={7} onChange={(event) => set(at, { ml: event.target.value })} />
              <Field label="Packaging" value={one.packaging} inputMode="decimal" maxLength={7} onChange={(event) => set(at, { packaging: event.target.value })} />
              <Field label="Price with tax" value={one.price} placeholder="from the margin" inputMode="decimal" maxLength={9} onChange={(event) => set(at, { price: event.target.value })} />
              <Field label="or margin, %" value={one.margin} disabled={one.price.trim() !== ""} inputMode="decimal" maxLength={5} onChange={(event) => set(at, { margin: event.target.value })} />
            </div>
            {found && (
              <p>
                {found.count} of them; each costs {money(found.cost)} and sells at <b>{money(found.price)}</b>: {money(found.profit)} left
                {found.margin_pct !== null && `, ${units.number(found.margin_pct)} % of the net price`}.
              </p>
            )}
          </div>
        );
      })}
      {sold.length < 10 && (
        <Button kind="quiet" className="justify-self-start" onClick={() => change([...sold, { name: "tub", ml: "500", packaging: "", price: "", margin: "65" }])}>
          One more
        </Button>
      )}
    </fieldset>
  );
}
