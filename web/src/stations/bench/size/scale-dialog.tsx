import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, type Schemas } from "../../../shared/api/client";
import { ingredientQuery, machinesQuery, stockQuery } from "../../../shared/api/queries";
import { grams, readNumber, shown, unbroken } from "../../../shared/format/numbers";
import { Button } from "../../../ui/button";
import { Choice, Field } from "../../../ui/field";
import { SheetDialog } from "../../../ui/sheet-dialog";
import { bodyOf, type Draft, type Edit, writtenOf } from "../draft/draft";
import type { DraftReading } from "../draft/use-analysis";
import { useDebouncedValue } from "../draft/use-debounced-value";
import { FillBar } from "./machine-fill";

type By = Schemas["ScaleQuestion"]["by"];

const WAYS: { key: By; name: string; amount: string; start: string }[] = [
  { key: "mass", name: "weight of the mix", amount: "Weight", start: "2 kg" },
  { key: "litres", name: "litres in the tub", amount: "Litres", start: "2" },
  { key: "portions", name: "tubs or scoops", amount: "How many", start: "12" },
  { key: "guests", name: "guests", amount: "Guests", start: "10" },
  { key: "line", name: "what I have of something", amount: "There is", start: "500 g" },
  { key: "runs", name: "full runs of the machine", amount: "Runs", start: "2" },
];

type Props = {
  draft: Draft;
  reading: DraftReading | undefined;
  me: Schemas["KitchenOut"];
  edit: (edit: Edit) => void;
  open: boolean;
  onClose: () => void;
};

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
      <Scale {...props} />
    </SheetDialog>
  );
}

function Scale({ draft, reading, me, edit, onClose }: Props) {
  const [by, setBy] = useState<By>("mass");
  const [amount, setAmount] = useState(`${grams(2 * (reading?.analysis?.mass_g ?? 1000))} g`.replaceAll("\u202f", ""));
  const [each, setEach] = useState(shown(me.scoop_ml));
  const [perGuest, setPerGuest] = useState("2");
  const [line, setLine] = useState(0);
  const machines = useQuery(machinesQuery);
  const machine = machines.data?.find((one) => one.id === draft.machine);
  const way = WAYS.find((one) => one.key === by)!;
  const named = draft.lines.map((one, at) => ({ key: String(at), name: reading?.lines[one.key]?.name ?? one.ingredient }));
  const eachMl = by === "portions" || by === "guests" ? readNumber(each) : null;
  const wanted = { by, amount, each_ml: eachMl, per_guest: by === "guests" ? (readNumber(perGuest) ?? 1) : 1, line: by === "line" ? line : null };
  const written = JSON.stringify(wanted);
  const [rested, size] = [useDebouncedValue(draft), useDebouncedValue(written)];
  const asked = useQuery({
    queryKey: ["analysis", "scale", writtenOf(rested), size],
    queryFn: ({ signal }) => answer(api.POST("/scalings", { body: { ...bodyOf(rested), ...(JSON.parse(size) as typeof wanted) }, signal })),
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  const settled = rested === draft && size === written && !asked.isPlaceholderData;
  const found = asked.error ? undefined : asked.data;

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
      <div className="grid grid-cols-2 items-start gap-3 sm:grid-cols-4">
        <div className="col-span-2">
          <Choice
            label="By"
            value={by}
            options={WAYS}
            onChange={(event) => {
              const next = WAYS.find((one) => one.key === event.target.value)!;
              setBy(next.key);
              setAmount(next.start);
            }}
          />
        </div>
        {by === "line" && (
          <div className="col-span-2">
            <Choice label="Of" value={String(line)} options={named} onChange={(event) => setLine(Number(event.target.value))} />
          </div>
        )}
        <Field label={way.amount} value={amount} maxLength={60} autoFocus onChange={(event) => setAmount(event.target.value)} onFocus={(event) => event.target.select()} />
        {(by === "portions" || by === "guests") && <Field label="Each, ml" value={each} inputMode="decimal" maxLength={8} onChange={(event) => setEach(event.target.value)} />}
        {by === "guests" && <Field label="Each eats" value={perGuest} inputMode="decimal" maxLength={6} onChange={(event) => setPerGuest(event.target.value)} />}
      </div>
      {by === "line" && draft.lines[line] && <InTheHouse slug={draft.lines[line].ingredient} use={setAmount} />}
      <WholePieces draft={draft} reading={reading} edit={edit} />
      {asked.error && (
        <p role="alert" className="text-hot">
          {asked.error.message}
        </p>
      )}
      {found && <Scaled found={found} machine={machine} me={me} each={eachMl ?? me.scoop_ml} />}
      <div className="sticky -bottom-6 -mx-6 -mb-6 flex gap-3 bg-panel px-6 py-4">
        <Button type="submit" kind="hot" disabled={!found || !settled}>
          Take this size
        </Button>
        <Button onClick={onClose}>Leave it</Button>
      </div>
    </form>
  );
}

function InTheHouse({ slug, use }: { slug: string; use: (amount: string) => void }) {
  const stock = useQuery(stockQuery);
  const there = stock.data?.filter((entry) => entry.ingredient === slug) ?? [];
  if (there.length === 0) return null;
  const total = there.reduce((sum, entry) => sum + entry.grams, 0);
  return (
    <p className="text-sm text-muted">
      In the house: {grams(total)} g.{" "}
      <button type="button" className="underline" onClick={() => use(`${Math.round(total * 10) / 10} g`)}>
        Use all of it
      </button>
    </p>
  );
}

/** Which lines come in whole pieces: eggs, tins, bars. */
function WholePieces({ draft, reading, edit }: Pick<Props, "draft" | "reading" | "edit">) {
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
      <label className="flex items-center gap-1.5 text-sm">
        <input
          type="checkbox"
          checked={line.whole !== null && line.whole !== undefined}
          onChange={(event) => edit({ kind: "hold", key: line.key, held: { whole: event.target.checked ? piece : null } })}
        />
        {name}: each {piece} whole
      </label>
    </li>
  );
}

function Scaled({ found, machine, me, each }: { found: Schemas["ScaleOut"]; machine: Schemas["MachineOut"] | undefined; me: Schemas["KitchenOut"]; each: number }) {
  return (
    <div className="grid gap-3 sm:grid-cols-[1fr_16rem]" aria-live="polite">
      <div>
        <table className="w-full text-sm">
          <thead>
            <tr className="text-left text-muted">
              <th className="font-normal">Line</th>
              <th className="text-right font-normal">now</th>
              <th className="text-right font-normal">then</th>
            </tr>
          </thead>
          <tbody>
            {found.lines.map((line) => (
              <tr key={line.line} className="border-t border-line">
                <td className="py-0.5">{line.name}</td>
                <td className="text-right text-muted">{grams(line.before_g)} g</td>
                <td className="text-right font-semibold">
                  {/[a-z%]/i.test(line.typed) ? `${line.typed}, ` : ""}
                  {shown(line.after_g, line.after_g % 1 > 0.001 ? 1 : 0)} g
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div className="grid content-start gap-2 text-sm">
        <p>
          <b className="font-name text-lg">{grams(found.mass_g)} g of mix</b>
          <span className="block text-muted">
            {shown(found.times, 2)} times as much. After {shown(me.loss_pct)} % of losses {shown(found.litres, 2)} L, {found.portions} portions of {shown(each)} ml.
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
        {found.whole.length > 0 && (
          <div className="grid gap-1">
            <p>
              With {found.whole.join(" and ")}{found.made_up === found.effect ? "" : <>. Rounding alone: {found.made_up}. The rest made up</>}: <b>{found.effect}</b>.
            </p>
            <p className="text-muted">
              {found.deviations.map((one) => `${one.name.toLowerCase()} ${shown(one.before, 1)} → ${shown(one.after, 1)}${one.unit && ` ${one.unit}`}`).join(", ")}
            </p>
            {found.nearest.map((one) => (
              <p key={one.message} className="text-muted">
                {one.message} with nothing to make up.
              </p>
            ))}
          </div>
        )}
      </div>
    </div>
  );
}
