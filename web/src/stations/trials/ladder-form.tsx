import { useQueries } from "@tanstack/react-query";

import type { Schemas } from "../../shared/api/client";
import { ingredientQuery } from "../../shared/api/queries";
import { readNumber } from "../../shared/format/numbers";
import { useUnits } from "../../shared/format/units";
import { Field } from "../../ui/field";
import { Select } from "../../ui/select";
import { ToggleChips } from "../../ui/toggle-group";
import { type Picked, PickIngredient } from "../shelf/pick-ingredient";

type Mix = Schemas["MixOut"];

const DEXTROSE: Picked = { slug: "dextrose", name: "Dextrose, monohydrate", pieces: {} };

/** What a ladder varies, as it is chosen: a line as other goods, a line in g, or a figure. */
export type Ladder = { way: "share" | "grams" | "aim"; line: number; by: Picked; steps: string; takeUp: string; aim: string; moving: string[]; hold: string[] };

const USUAL: Record<Ladder["way"], string> = { share: "0 15 30 45", grams: "", aim: "8 10 12" };
const AIMS = [
  { key: "fat", name: "fat, %" },
  { key: "total_solids", name: "solids, %" },
  { key: "sweetness", name: "sweetness" },
  { key: "hydrocolloids", name: "gum, %" },
  { key: "scoop_c", name: "where it scoops, °C" },
  { key: "firmness", name: "firmness as served" },
  { key: "acids", name: "acid, %" },
];
const HELD = [
  { key: "sweetness", name: "sweetness" },
  { key: "scoop_c", name: "where it scoops" },
  { key: "total_solids", name: "solids" },
];

export function newLadder(mix: Mix): Ladder {
  const sugar = mix.lines.findIndex(({ ingredient }) => ingredient === "sugar");
  const line = Math.max(0, sugar);
  return { way: sugar >= 0 ? "share" : "grams", line, by: DEXTROSE, steps: sugar >= 0 ? USUAL.share : stepsAround(mix, line), takeUp: "", aim: "fat", moving: [], hold: ["sweetness"] };
}

function stepsAround(mix: Mix, line: number): string {
  const grams = mix.lines[line]?.grams ?? 0;
  return [0, grams, 2 * grams].map((step) => String(Number(step.toPrecision(3)))).join(" ");
}

/** The ladder that a tasting leads to: today, once and twice the change that it asks for; null where it is none of those. */
export function askedLadder(mix: Mix, aim: string | null, values: string | null): Ladder | null {
  if (aim === null || values === null || !AIMS.some(({ key }) => key === aim)) return null;
  const moving = mix.lines.flatMap(({ stage }, at) => (stage === "mix-in" || stage === "layer" ? [] : [String(at)]));
  const steps = values.split(",").map((value) => String(Number(Number(value).toPrecision(3))));
  return { ...newLadder(mix), way: "aim", aim, steps: steps.join(" "), moving, hold: aim === "sweetness" ? ["scoop_c"] : ["sweetness"] };
}

/** The steps as numbers, null while one of them cannot be read. */
function stepsOf(typed: string): number[] | null {
  const steps = typed.trim().split(/[\s;]+/).map((step) => readNumber(step));
  return steps.length > 0 && steps.every((step) => step !== null) ? (steps) : null;
}

/** A ladder as it is asked of the server; null while something in it cannot be read. */
export function factorsOf(ladder: Ladder): Schemas["FactorIn"] | null {
  const steps = stepsOf(ladder.steps);
  if (steps === null || steps.length < 2) return null;
  const none = { moving: [], hold: [] };
  if (ladder.way === "share") return { ...none, line: ladder.line, by: ladder.by.slug, share_pct: steps };
  if (ladder.way === "grams") return { ...none, line: ladder.line, grams: steps, ...(ladder.takeUp === "" ? {} : { take_up: Number(ladder.takeUp) }) };
  return { aim: ladder.aim, values: steps, moving: ladder.moving.map(Number), hold: ladder.hold.filter((key) => key !== ladder.aim) };
}

/** The three choices: what varies, in which steps, and what takes up the difference. */
export function LadderForm({ mix, ladder, onChange }: { mix: Mix; ladder: Ladder; onChange: (ladder: Ladder) => void }) {
  const units = useUnits();
  const names = useNames(mix);
  const lines = mix.lines.map((line, at) => ({ key: String(at), name: `${names.get(line.ingredient) ?? line.ingredient}, ${units.mass(line.grams ?? 0)}` }));
  const set = (part: Partial<Ladder>) => onChange({ ...ladder, ...part });
  const wrong = stepsOf(ladder.steps) === null;
  return (
    <div className="grid gap-4">
      <Select
        label="1. What varies"
        value={ladder.way}
        options={[
          { key: "share", name: "part of a line as something else" },
          { key: "grams", name: "the grams of a line" },
          { key: "aim", name: "a figure, by Balance" },
        ]}
        onChange={(way) => set({ way: way as Ladder["way"], steps: way === "grams" ? stepsAround(mix, ladder.line) : USUAL[way as Ladder["way"]] })}
      />
      {ladder.way === "aim" ? (
        <Select label="Which figure" value={ladder.aim} options={AIMS} onChange={(aim) => set({ aim })} />
      ) : (
        <Select label="Which line" value={String(ladder.line)} options={lines} onChange={(line) => set({ line: Number(line), ...(ladder.way === "grams" ? { steps: stepsAround(mix, Number(line)) } : {}) })} />
      )}
      {ladder.way === "share" && <PickIngredient label="As what" picked={ladder.by} pick={(by) => by && set({ by })} />}
      <Field
        label={ladder.way === "share" ? "2. In which steps, % of it" : ladder.way === "grams" ? "2. In which steps, g" : "2. In which steps"}
        value={ladder.steps}
        maxLength={60}
        onChange={(event) => set({ steps: event.target.value })}
        error={wrong ? "Write numbers with spaces between, such as 0 15 30." : undefined}
      />
      <TakesUp ladder={ladder} lines={lines} set={set} />
    </div>
  );
}

function TakesUp({ ladder, lines, set }: { ladder: Ladder; lines: { key: string; name: string }[]; set: (part: Partial<Ladder>) => void }) {
  if (ladder.way === "share") return <p className="text-sm text-muted">3. Gram for gram: nothing else moves.</p>;
  if (ladder.way === "grams") {
    const others = lines.filter(({ key }) => key !== String(ladder.line));
    return <Select label="3. What takes up the difference" value={ladder.takeUp} options={[{ key: "", name: "all else, in proportion" }, ...others]} onChange={(takeUp) => set({ takeUp })} />;
  }
  return (
    <>
      <div className="grid gap-1">
        <span className="font-semibold">3. What may move</span>
        <ToggleChips label="What may move" on={ladder.moving} options={lines} onChange={(moving) => set({ moving })} />
      </div>
      <div className="grid gap-1">
        <span className="font-semibold">What stays as it is felt</span>
        <ToggleChips label="What stays" on={ladder.hold} options={HELD.filter(({ key }) => key !== ladder.aim)} onChange={(hold) => set({ hold })} />
      </div>
    </>
  );
}

/** What the shelf calls the ingredients of a mix, by slug. */
function useNames(mix: Mix): Map<string, string> {
  const slugs = [...new Set(mix.lines.map(({ ingredient }) => ingredient))];
  return useQueries({
    queries: slugs.map((slug) => ingredientQuery(slug)),
    combine: (found) => new Map(found.flatMap(({ data }) => (data ? [[data.slug, data.name] as const] : []))),
  });
}
