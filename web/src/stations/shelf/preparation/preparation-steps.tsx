import type { Schemas } from "../../../shared/api/client";
import { readNumber } from "../../../shared/format/numbers";
import { Field } from "../../../ui/field";
import { Menu, MenuItem } from "../../../ui/menu";
import { Select } from "../../../ui/select";

type Kind = Schemas["PrepStep"]["kind"];

/** A step while it is edited: numbers as typed. */
export type Step = {
  key: string;
  kind: Kind;
  share: string;
  measured: string;
  pot: string;
  brix: string;
  pressed: boolean;
  madeUp: Schemas["PrepStep"]["made_up"];
  keep: Schemas["PrepStep"]["keep"];
};

type Words = { name: string; share?: string; measured?: string; pot?: boolean; usual?: string };

/** What each kind of step is called and asks for; `usual` is the share it begins with. */
const KINDS: Record<Kind, Words> = {
  reduce: { name: "Reduce", share: "to % of its weight", measured: "or to g", pot: true, usual: "33" },
  cook: { name: "Cook", share: "loses % of its weight", measured: "weighs g afterwards", pot: true, usual: "5" },
  steep: { name: "Steep and take out", measured: "weighs g afterwards" },
  macerate: { name: "Macerate", share: "% of its liquid runs off", measured: "weighed g of it", usual: "" },
  strain: { name: "Strain", share: "% passes", measured: "or g that passed", usual: "85" },
  trim: { name: "Trim", share: "% is lost", measured: "or g that are left", usual: "10" },
  sour: { name: "Sour with acid" },
  invert: { name: "Boil with acid", share: "% of its table sugar is split", usual: "30" },
  brix: { name: "Read °Brix" },
};

export function newStep(kind: Kind): Step {
  return stepOf({ kind, share_pct: readNumber(KINDS[kind].usual ?? ""), pressed: true, made_up: "", keep: kind === "macerate" ? "syrup" : "both" });
}

export function stepOf(step: Schemas["PrepStep"]): Step {
  return {
    key: Math.random().toString(36).slice(2),
    kind: step.kind,
    share: step.share_pct?.toString() ?? "",
    measured: step.measured_g?.toString() ?? "",
    pot: step.pot_g?.toString() ?? "",
    brix: step.brix?.toString() ?? "",
    pressed: step.pressed ?? true,
    madeUp: step.made_up ?? "",
    keep: step.keep ?? "both",
  };
}

/** The step as the server takes it; null while a number cannot be read. */
export function stepBody(step: Step): Schemas["PrepStep"] | null {
  const typed = [step.share, step.measured, step.pot, step.brix];
  if (typed.some((text) => text.trim() !== "" && readNumber(text) === null)) return null;
  return {
    kind: step.kind,
    share_pct: step.measured.trim() && step.kind !== "invert" ? null : readNumber(step.share),
    measured_g: readNumber(step.measured),
    pot_g: readNumber(step.pot),
    brix: readNumber(step.brix),
    pressed: step.pressed,
    made_up: step.madeUp,
    keep: step.keep,
  };
}

export function StepChoice({ add }: { add: (kind: Kind) => void }) {
  return (
    <div>
      <Menu label="Add a step" trigger={<span>Add a step</span>} plain>
        {(Object.keys(KINDS) as Kind[]).map((kind) => (
          <MenuItem key={kind} onSelect={() => add(kind)}>
            {KINDS[kind].name}
          </MenuItem>
        ))}
      </Menu>
    </div>
  );
}

export function StepEditor(props: { number: number; step: Step; message: string | undefined; change: (step: Step | null) => void }) {
  const { number, step, change } = props;
  const words = KINDS[step.kind];
  const field = (key: "share" | "measured" | "pot" | "brix", label: string) => (
    <div className="w-40">
      <Field
        label={label}
        value={step[key]}
        inputMode="decimal"
        maxLength={10}
        onChange={(event) => change({ ...step, [key]: event.target.value })}
        error={step[key].trim() !== "" && readNumber(step[key]) === null ? "Not a number." : undefined}
      />
    </div>
  );
  return (
    <li className="grid gap-2 border-b border-line pb-3 last:border-0">
      <div className="flex items-baseline gap-2">
        <h3>
          {number}. {words.name}
        </h3>
        <button type="button" className="ml-auto text-sm text-muted underline" onClick={() => change(null)} aria-label={`Remove step ${number}, ${words.name}`}>
          remove
        </button>
      </div>
      <div className="flex flex-wrap items-end gap-3">
        {words.share && field("share", words.share)}
        {words.measured && field("measured", words.measured)}
        {words.pot && field("pot", "the empty pot, g")}
        {step.kind === "brix" && field("brix", "it reads °Brix")}
        {step.kind === "steep" && <SteepChoices step={step} change={change} />}
        {step.kind === "macerate" && (
          <Select
            label="is used"
            value={step.keep ?? "both"}
            options={[
              { key: "syrup", name: "the syrup" },
              { key: "fruit", name: "the fruit" },
              { key: "both", name: "both" },
            ]}
            onChange={(key) => change({ ...step, keep: key as Step["keep"] })}
          />
        )}
      </div>
      {props.message && <p className="text-muted">{props.message}</p>}
    </li>
  );
}

function SteepChoices({ step, change }: { step: Step; change: (step: Step) => void }) {
  return (
    <>
      <Select
        label="the leaves are"
        value={step.pressed ? "pressed" : "drained"}
        options={[
          { key: "pressed", name: "pressed" },
          { key: "drained", name: "left to drain" },
        ]}
        onChange={(key) => change({ ...step, pressed: key === "pressed" })}
      />
      <Select
        label="what they keep is"
        value={step.madeUp ?? ""}
        options={[
          { key: "", name: "not made up" },
          { key: "liquid", name: "made up with the same" },
          { key: "water", name: "made up with water" },
        ]}
        onChange={(key) => change({ ...step, madeUp: key as Step["madeUp"] })}
      />
    </>
  );
}
