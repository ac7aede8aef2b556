import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, type Schemas } from "../../../shared/api/client";
import { ingredientQuery, lotsQuery, machinesQuery } from "../../../shared/api/queries";
import { readNumber, unbroken } from "../../../shared/format/numbers";
import { Button } from "../../../ui/button";
import { Field } from "../../../ui/field";
import { SheetDialog } from "../../../ui/sheet-dialog";
import { useBenchActions, useDraft, useReading } from "../bench-context";
import { bodyOf, type Draft, type Edit, writtenOf } from "../draft/draft";
import { useDebouncedValue } from "../../../shared/use-debounced-value";
import { FillBar } from "./machine-fill";
import { Checkbox } from "../../../ui/checkbox";
import { Select } from "../../../ui/select";
import { type MassUnit, typedMass, useUnits } from "../../../shared/format/units";
import { useKitchen } from "../../../shared/api/kitchen";

type By = Schemas["ScaleQuestion"]["by"];

const same = (start: string) => ({ g: start, oz: start });

const WAYS: { key: By; name: string; amount: string; start: Record<MassUnit, string> }[] = [
  { key: "mass", name: "weight of the mix", amount: "Weight", start: { g: "2 kg", oz: "4 lb" } },
  { key: "litres", name: "litres in the tub", amount: "Litres", start: same("2") },
  { key: "portions", name: "tubs or scoops", amount: "How many", start: same("12") },
  { key: "guests", name: "guests", amount: "Guests", start: same("10") },
  { key: "line", name: "what I have of something", amount: "There is", start: { g: "500 g", oz: "16 oz" } },
  { key: "runs", name: "full runs of the machine", amount: "Runs", start: same("2") },
];

type Props = { open: boolean; onClose: () => void };

/** Another size of the mix: asked for in a cook's measures, shown as it can be weighed, taken in one step. */
export function ScaleDialog(props: Props) {
  return (
    <SheetDialog
      open={props.open}
      onOpenChange={(now) => !now && props.onClose()}
      title="Another size"
      explanation="Weighed to the steps of your scales, gums on the fine one. What must stay whole stays whole, and the rest makes up for it."
      wide
    >
      <Scale onClose={props.onClose} />
    </SheetDialog>
  );
}

function Scale({ onClose }: { onClose: () => void }) {
  const { edit } = useBenchActions();
  const { draft } = useDraft();
  const { reading } = useReading();
  const kitchen = useKitchen();
  const [size, setSize] = useState(() => beginSize(reading?.analysis?.mass_g ?? 1000, kitchen));
  const { found, error, settled, eachMl } = useScaled(draft, size);
  const machine = useQuery(machinesQuery).data?.find((one) => one.id === draft.machine);
  const ofLine = size.by === "line" ? draft.lines[size.line] : undefined;

  function take() {
    if (!found) return;
    const lines = found.lines.map((one) => ({ key: draft.lines[one.line]!.key, typed: one.typed, unit: one.unit, grams: one.after_g }));
    edit({ kind: "scale", lines, times: found.times });
    onClose();
  }

  return (
    <form
      className="grid gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        if (settled) take();
      }}
    >
      <SizeFields size={size} change={(changes) => setSize({ ...size, ...changes })} />
      {ofLine && <InTheHouse slug={ofLine.ingredient} use={(amount) => setSize({ ...size, amount })} />}
      <WholePieces />
      {error && (
        <p role="alert" className="text-hot">
          {error.message}
        </p>
      )}
      {found && <Scaled found={found} machine={machine} each={eachMl ?? kitchen.scoop_ml} />}
      <div className="sticky -bottom-6 -mx-6 -mb-6 flex gap-3 bg-panel px-6 py-4">
        <Button type="submit" kind="hot" disabled={!found || !settled}>
          Take this size
        </Button>
        <Button onClick={onClose}>Leave it</Button>
      </div>
    </form>
  );
}

/** What is asked for, as typed. */
type Size = { by: By; amount: string; each: string; perGuest: string; line: number };

function beginSize(massG: number, kitchen: Schemas["KitchenOut"]): Size {
  const twice = `${typedMass(2 * massG, kitchen.mass_unit, 0)} ${kitchen.mass_unit}`;
  return { by: "mass", amount: twice, each: String(kitchen.scoop_ml), perGuest: "2", line: 0 };
}

/** The draft at the size that is asked for, once the hands rest. */
function useScaled(draft: Draft, size: Size) {
  const eachMl = size.by === "portions" || size.by === "guests" ? readNumber(size.each) : null;
  const perGuest = size.by === "guests" ? (readNumber(size.perGuest) ?? 1) : 1;
  const wanted = { by: size.by, amount: size.amount, each_ml: eachMl, per_guest: perGuest, line: size.by === "line" ? size.line : null };
  const written = JSON.stringify(wanted);
  const [rested, asked] = [useDebouncedValue(draft), useDebouncedValue(written)];
  const scaled = useQuery({
    queryKey: ["analysis", "scale", writtenOf(rested), asked],
    queryFn: ({ signal }) => answer(api.POST("/scalings", { body: { ...bodyOf(rested), ...(JSON.parse(asked) as typeof wanted) }, signal })),
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  const settled = rested === draft && asked === written && !scaled.isPlaceholderData;
  return { found: scaled.error ? undefined : scaled.data, error: scaled.error, settled, eachMl };
}

function SizeFields({ size, change }: { size: Size; change: (changes: Partial<Size>) => void }) {
  const { draft } = useDraft();
  const { reading } = useReading();
  const { mass_unit: unit } = useKitchen();
  const { by, amount, each, perGuest, line } = size;
  const way = WAYS.find((one) => one.key === by)!;
  const named = draft.lines.map((one, at) => ({ key: String(at), name: reading?.lines[one.key]?.name ?? one.ingredient }));
  return (
    <div className="grid grid-cols-2 items-start gap-3 sm:grid-cols-4">
      <div className="col-span-2">
        <Select
          label="By"
          value={by}
          options={WAYS}
          onChange={(key) => {
            const next = WAYS.find((one) => one.key === key)!;
            change({ by: next.key, amount: next.start[unit] });
          }}
        />
      </div>
      {by === "line" && (
        <div className="col-span-2">
          <Select label="Of" value={String(line)} options={named} onChange={(key) => change({ line: Number(key) })} />
        </div>
      )}
      <Field label={way.amount} value={amount} maxLength={60} autoFocus onChange={(event) => change({ amount: event.target.value })} onFocus={(event) => event.target.select()} />
      {(by === "portions" || by === "guests") && <Field label="Each, ml" value={each} inputMode="decimal" maxLength={8} onChange={(event) => change({ each: event.target.value })} />}
      {by === "guests" && <Field label="Each eats" value={perGuest} inputMode="decimal" maxLength={6} onChange={(event) => change({ perGuest: event.target.value })} />}
    </div>
  );
}

function InTheHouse({ slug, use }: { slug: string; use: (amount: string) => void }) {
  const units = useUnits();
  const lots = useQuery(lotsQuery);
  const there = lots.data?.filter((lot) => lot.ingredient === slug && !lot.blocked) ?? [];
  if (there.length === 0) return null;
  const total = there.reduce((sum, lot) => sum + lot.grams, 0);
  return (
    <p className="text-sm text-muted">
      In the house: {units.mass(total)}.{" "}
      <button type="button" className="underline" onClick={() => use(`${units.typedMass(total, 1)} ${units.massUnit}`)}>
        Use all of it
      </button>
    </p>
  );
}

/** Which lines come in whole pieces: eggs, tins, bars. */
function WholePieces() {
  const { edit } = useBenchActions();
  const { draft } = useDraft();
  const { reading } = useReading();
  return (
    <ul className="flex flex-wrap gap-x-4 gap-y-1 empty:hidden">
      {draft.lines.map((line) => (
        <WholeLine key={line.key} line={line} name={reading?.lines[line.key]?.name ?? line.ingredient} edit={edit} />
      ))}
    </ul>
  );
}

function WholeLine({ line, name, edit }: { line: Draft["lines"][number]; name: string; edit: (edit: Edit) => void }) {
  const ingredient = useQuery(ingredientQuery(line.ingredient));
  const pieces = Object.keys(ingredient.data?.pieces ?? {});
  const piece = line.whole ?? pieces[0];
  if (!piece) return null;
  return (
    <li>
      <Checkbox className="text-sm" checked={line.whole !== null && line.whole !== undefined}
          onChange={(checked) => edit({ kind: "hold", key: line.key, held: { whole: checked ? piece : null } })}>
        {name}: each {piece} whole
      </Checkbox>
    </li>
  );
}

function Scaled({ found, machine, each }: { found: Schemas["ScaleOut"]; machine: Schemas["MachineOut"] | undefined; each: number }) {
  const kitchen = useKitchen();
  const units = useUnits();
  return (
    <div className="grid gap-3 sm:grid-cols-[1fr_16rem]" aria-live="polite">
      <ScaledLines lines={found.lines} />
      <div className="grid content-start gap-2 text-sm">
        <p>
          <b className="font-name text-lg">{units.mass(found.mass_g)} of mix</b>
          <span className="block text-muted">
            {units.number(found.times, 2)} times as much. After {units.number(kitchen.loss_pct)}&nbsp;% of losses {units.number(found.litres, 2)}&nbsp;L, {found.portions} portions of{" "}
            {units.number(each)}&nbsp;ml.
          </span>
        </p>
        {found.fill && (
          <div className="grid gap-1">
            {machine && <FillBar fill={found.fill} most={machine.most_pct} />}
            <p>
              <b>{machine?.name}</b>: {unbroken(found.fill.message)}.
            </p>
          </div>
        )}
        {found.mind.map((sentence) => (
          <p key={sentence} className="border-l-3 border-hot pl-2">
            {sentence}
          </p>
        ))}
        {found.whole.length > 0 && <MadeUp found={found} />}
      </div>
    </div>
  );
}

function ScaledLines({ lines }: { lines: Schemas["ScaleOut"]["lines"] }) {
  const units = useUnits();
  return (
    <table className="w-full self-start text-sm">
      <thead>
        <tr className="text-left text-muted">
          <th className="font-normal">Line</th>
          <th className="text-right font-normal">now</th>
          <th className="text-right font-normal">then</th>
        </tr>
      </thead>
      <tbody>
        {lines.map((line) => (
          <tr key={line.line} className="border-t border-line">
            <td className="py-0.5">{line.name}</td>
            <td className="text-right text-muted">{units.mass(line.before_g)}</td>
            <td className="text-right font-semibold">
              {/[a-z%]/i.test(line.typed) ? `${line.typed}, ` : ""}
              {units.mass(line.after_g)}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** What whole pieces shift, and how the rest has made up for it. */
function MadeUp({ found }: { found: Schemas["ScaleOut"] }) {
  const units = useUnits();
  const deviations = found.deviations.map((one) => `${one.name.toLowerCase()} ${one.unit === "°C" ? units.degrees(one.before) : units.number(one.before, 1)} → ${units.figure(one.after, one.unit, 1)}`);
  return (
    <div className="grid gap-1">
      <p>
        With {found.whole.join(" and ")}
        {found.made_up === found.effect ? "" : <>. Rounding alone: {found.made_up}. The rest made up</>}: <b>{found.effect}</b>.
      </p>
      <p className="text-muted">{deviations.join(", ")}</p>
      {found.nearest.map((one) => (
        <p key={one.message} className="text-muted">
          {one.message} with nothing to make up.
        </p>
      ))}
    </div>
  );
}
