import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Printer } from "lucide-react";
import { useState } from "react";
import { createPortal } from "react-dom";

import { answer, api, type Schemas } from "../../shared/api/client";
import { useKitchen } from "../../shared/api/kitchen";
import { shelfChanged } from "../../shared/api/queries";
import { listed } from "../../shared/format/numbers";
import { useUnits } from "../../shared/format/units";
import { Button } from "../../ui/button";
import { Checkbox } from "../../ui/checkbox";
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

const PARTS = new Set(["saturates", "trans", "sugars", "added_sugars", "polyols"]);

/** The draft of the label of this mix, by the rules of a region, with what is missing for it named. */
export function LabelDialog({ onClose }: { onClose: () => void }) {
  const { region: ours } = useKitchen();
  const { draft } = useDraft();
  const [region, setRegion] = useState<Region>(ours === "uk" || ours === "us" || ours === "eu" ? ours : "us");
  const [netMl, setNetMl] = useState(500);
  const [quid, setQuid] = useState<string[]>([]);
  const body = { ...bodyOf(draft), region, net_ml: netMl, serving_ml: region === "us" ? null : 100, quid };
  const label = useQuery({
    queryKey: ["analysis", "label", JSON.stringify(body)],
    queryFn: ({ signal }) => answer(api.POST("/label-drafts", { body, signal })),
    retry: false,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  return (
    <SheetDialog open onOpenChange={(now) => !now && onClose()} title="Draft of the label" explanation="Check it with your food authority before you print it." wide>
      <div className="grid gap-4">
        <div className="grid grid-cols-2 gap-3">
          <Select label="By the rules of" value={region} options={REGIONS} onChange={(key) => setRegion(key as Region)} />
          <NumberField label="In the pack, ml" value={netMl} range={{ least: 1, most: 100_000 }} onChange={setNetMl} />
        </div>
        {region !== "us" && label.data && <Named names={label.data.names} quid={quid} change={setQuid} />}
        <Waiting query={label}>{(found) => (found ? <Drafted label={found} name={draft.name} /> : <p className="text-muted">Nothing is in it yet.</p>)}</Waiting>
      </div>
    </SheetDialog>
  );
}

/** Which ingredients the pack names or shows: their share must stand on the list. */
function Named({ names, quid, change }: { names: string[]; quid: string[]; change: (quid: string[]) => void }) {
  return (
    <details>
      <summary className="font-semibold">Named or pictured on the pack{quid.length > 0 && `: ${listed(quid)}`}</summary>
      <div className="flex flex-wrap gap-x-4 gap-y-1 pt-1">
        {names.map((name) => (
          <Checkbox key={name} checked={quid.includes(name)} onChange={(on) => change(on ? [...quid, name] : quid.filter((other) => other !== name))}>
            {name}
          </Checkbox>
        ))}
      </div>
    </details>
  );
}

/** The draft with what is missing for it, and on paper once nothing of the allergens is open. */
function Drafted({ label, name }: { label: Label; name: string }) {
  const missing = [...new Set(label.rows.flatMap((row) => row.missing))];
  const blocked = label.not_stated.length > 0 || label.unread.length > 0;
  return (
    <div className="grid gap-3">
      <Said label={label} />
      {missing.length > 0 && <p className="border-l-3 border-hot pl-2">Not stated for {listed(missing)}: what rests on it stays open, for not stated is never nothing.</p>}
      {label.not_stated.length > 0 && <p className="border-l-3 border-hot pl-2">Allergens are not stated for {listed(label.not_stated)}: nothing may be printed before.</p>}
      {label.unread.map((pack) => (
        <Unread key={pack.slug} pack={pack} />
      ))}
      {label.cautions.map((caution) => (
        <p key={caution} className="text-sm text-muted">
          {caution}
        </p>
      ))}
      <Button kind="dark" className="justify-self-start" disabled={blocked} onClick={() => window.print()}>
        <Printer size={16} aria-hidden /> {blocked ? "Not printed before the allergens are settled" : "Print the draft"}
      </Button>
      {!blocked && createPortal(<LabelSheet label={label} name={name} />, document.body)}
    </div>
  );
}

/** A pack that somebody must read before a label may be printed. */
function Unread({ pack }: { pack: Schemas["UnreadPack"] }) {
  const client = useQueryClient();
  const confirm = useMutation({
    mutationFn: () => answer(api.PUT("/ingredients/{slug}/pack-reading", { params: { path: { slug: pack.slug } } })),
    onSuccess: () => shelfChanged(client),
  });
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 border-l-3 border-hot pl-2">
      <p className="flex-1 basis-64">
        {pack.name} may hold {listed(pack.may_hold, "or")}. Read its pack: if it names one of them as an ingredient, say so on the shelf first.
      </p>
      <Button disabled={confirm.isPending} onClick={() => confirm.mutate()}>
        I have read the pack
      </Button>
      {confirm.error && <p role="alert">{confirm.error.message}</p>}
    </div>
  );
}

/** The draft on A4. */
function LabelSheet({ label, name }: { label: Label; name: string }) {
  const units = useUnits();
  const region = REGIONS.find(({ key }) => key === label.region)?.name;
  return (
    <article className="sheet-only-on-paper">
      <h1 className="text-2xl">{name}</h1>
      <p>
        {label.draft} Rules of the {region}, as known in 2026; {units.day(units.today())}.
      </p>
      <div className="mt-4 grid gap-3">
        <Said label={label} />
        {label.cautions.map((caution) => (
          <p key={caution}>{caution}</p>
        ))}
      </div>
    </article>
  );
}

/** What the label says. */
function Said({ label }: { label: Label }) {
  return (
    <div className="grid gap-3">
      <p>
        <b>Ingredients:</b> <SetOff text={label.ingredients} />
      </p>
      {[label.statement, ...label.statements, label.net].filter(Boolean).map((sentence) => (
        <p key={sentence}>{sentence}</p>
      ))}
      <Nutrition label={label} />
      {label.for_guests.length > 0 && (
        <dl className="grid gap-1 text-sm">
          <dt className="font-semibold">If a guest asks</dt>
          {label.for_guests.map((word) => (
            <dd key={word.name}>
              {word.name}: {word.text}
            </dd>
          ))}
        </dl>
      )}
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

/** Energy in kJ and kcal is one row of the table. */
function withOneEnergy(rows: Label["rows"]): Label["rows"] {
  const [kj, kcal] = rows;
  if (kj?.key !== "energy_kj" || kcal?.key !== "energy_kcal") return rows;
  const both = (one: string | null, other: string | null) => (one === null || other === null ? null : `${one} / ${other}`);
  return [{ ...kj, per_100g: both(kj.per_100g, kcal.per_100g), per_100ml: both(kj.per_100ml, kcal.per_100ml) }, ...rows.slice(2)];
}

function Nutrition({ label }: { label: Label }) {
  const us = label.region === "us";
  return (
    <table className="w-full text-sm print:max-w-lg">
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
        {withOneEnergy(label.rows).map((row) => (
          <tr key={row.key} className="border-t border-line text-right">
            <th className={`py-0.5 text-left font-normal ${PARTS.has(row.key) ? "pl-4" : ""}`}>{us && row.key === "energy_kcal" ? "Calories" : (ROWS[row.key] ?? row.key)}</th>
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
