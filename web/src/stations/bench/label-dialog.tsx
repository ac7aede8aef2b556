import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, type Schemas } from "../../shared/api/client";
import { useKitchen } from "../../shared/api/kitchen";
import { listed } from "../../shared/format/numbers";
import { NumberField } from "../../ui/quantity-fields";
import { Select } from "../../ui/select";
import { SheetDialog } from "../../ui/sheet-dialog";
import { Waiting } from "../../ui/waiting";
import { useDraft } from "./bench-context";
import { bodyOf } from "./draft/draft";

type Label = Schemas["LabelDraftOut"];
type Region = Label["region"];

const REGIONS: { key: Region; name: string }[] = [
  { key: "eu", name: "European Union" },
  { key: "uk", name: "United Kingdom" },
  { key: "us", name: "United States" },
];

const ROWS: Record<string, string> = {
  energy_kj: "Energy",
  energy_kcal: "Energy",
  fat: "Fat",
  saturates: "of which saturates",
  trans: "Trans fat",
  cholesterol: "Cholesterol",
  sodium: "Sodium",
  carbohydrate: "Carbohydrate",
  sugars: "of which sugars",
  added_sugars: "Added sugars",
  polyols: "of which polyols",
  fibre: "Fibre",
  protein: "Protein",
  salt: "Salt",
  vitamin_d: "Vitamin D",
  calcium: "Calcium",
  iron: "Iron",
  potassium: "Potassium",
};

/** The draft of the label of this mix, by the rules of a region, with what is missing for it named. */
export function LabelDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  const { region: ours } = useKitchen();
  const { draft } = useDraft();
  const [region, setRegion] = useState<Region>(ours === "uk" || ours === "us" || ours === "eu" ? ours : "us");
  const [netMl, setNetMl] = useState(500);
  const body = { ...bodyOf(draft), region, net_ml: netMl, serving_ml: region === "us" ? null : 100 };
  const label = useQuery({
    queryKey: ["analysis", "label", JSON.stringify(body)],
    queryFn: ({ signal }) => answer(api.POST("/label-drafts", { body, signal })),
    retry: false,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  return (
    <SheetDialog open={open} onOpenChange={(now) => !now && onClose()} title="Draft of the label" explanation="Check it with your food authority before you print it." wide>
      <div className="grid gap-4">
        <div className="grid grid-cols-2 gap-3">
          <Select label="By the rules of" value={region} options={REGIONS} onChange={(key) => setRegion(key as Region)} />
          <NumberField label="In the pack, ml" value={netMl} range={{ least: 1, most: 100_000 }} onChange={setNetMl} />
        </div>
        <Waiting query={label}>{(found) => (found ? <Drafted label={found} /> : <p className="text-muted">Nothing is in it yet.</p>)}</Waiting>
      </div>
    </SheetDialog>
  );
}

function Drafted({ label }: { label: Label }) {
  const missing = [...new Set(label.rows.flatMap((row) => row.missing))];
  return (
    <div className="grid gap-3">
      <p>
        <b>Ingredients:</b> <SetOff text={label.ingredients} />
      </p>
      {[label.statement, ...label.statements, label.net].filter(Boolean).map((sentence) => (
        <p key={sentence}>{sentence}</p>
      ))}
      <Nutrition label={label} />
      {missing.length > 0 && <p className="border-l-3 border-hot pl-2">Not stated for {listed(missing)}: what rests on it stays open, for not stated is never nothing.</p>}
      {label.not_stated.length > 0 && <p className="border-l-3 border-hot pl-2">Allergens are not stated for {listed(label.not_stated)}: nothing may be printed before.</p>}
      {label.cautions.map((caution) => (
        <p key={caution} className="text-sm text-muted">
          {caution}
        </p>
      ))}
    </div>
  );
}

/** A list with what stands between two asterisks set off. */
function SetOff({ text }: { text: string }) {
  return (
    <>
      {text.split("**").map((part, at) => (at % 2 ? <b key={at}>{part}</b> : part))}
    </>
  );
}

function Nutrition({ label }: { label: Label }) {
  const us = label.region === "us";
  return (
    <table className="w-full text-sm">
      <thead>
        <tr className="text-right text-muted">
          <td />
          <th className="font-normal">100 g</th>
          <th className="font-normal">100 ml</th>
          {us && <th className="font-normal">{label.serving}</th>}
          {us && <th className="font-normal">daily value</th>}
        </tr>
      </thead>
      <tbody>
        {label.rows.map((row) => (
          <tr key={row.key} className="border-t border-line text-right">
            <th className="py-0.5 text-left font-normal">{us && row.key === "energy_kcal" ? "Calories" : (ROWS[row.key] ?? row.key)}</th>
            <td>{row.per_100g ?? "not stated"}</td>
            <td>{row.per_100ml ?? "–"}</td>
            {us && <td>{row.per_serving ?? "–"}</td>}
            {us && <td>{row.dv ?? ""}</td>}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
