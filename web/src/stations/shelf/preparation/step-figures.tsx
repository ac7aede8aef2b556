import { useId } from "react";

import { readNumber } from "../../../shared/format/numbers";
import { useUnits } from "../../../shared/format/units";
import { inputClass } from "../../../ui/field";
import { Menu, MenuItem } from "../../../ui/menu";
import { Select } from "../../../ui/select";
import { ToggleGroup } from "../../../ui/toggle-group";
import { KINDS, type Kind, type KnownBy, type Step } from "./steps";

const WAYS: Record<KnownBy, string> = { share: "estimated", weighed: "weighed", heat: "by heat" };

export function StepChoice({ add }: { add: (kind: Kind) => void }) {
  return (
    <Menu label="Add a step" trigger={<span>Add a step</span>} plain>
      {(Object.keys(KINDS) as Kind[]).map((kind) => (
        <MenuItem key={kind} onSelect={() => add(kind)}>
          {KINDS[kind].name}
        </MenuItem>
      ))}
    </Menu>
  );
}

/** What is typed of a step, under the place in the drawing where it happens. */
export function StepFigures({ number, step, change }: { number: number; step: Step; change: (step: Step) => void }) {
  const { temperatureUnit } = useUnits();
  const { by, name, pot } = KINDS[step.kind];
  const ways = (Object.keys(by) as KnownBy[]).map((key) => ({ key, name: WAYS[key] }));
  const of = `${name}, step ${number}`;
  const field = { share: "share", weighed: "measured", heat: "heat" } as const;
  const words = by[step.by];
  return (
    <div className="grid gap-1.5 text-sm">
      {ways.length > 1 && <ToggleGroup label={`How it is known, ${of}`} value={step.by} options={ways} onChange={(way) => change({ ...step, by: way as KnownBy })} />}
      {words && <Figure of={of} said={step.by === "heat" ? `${words} ${temperatureUnit}` : words} value={step[field[step.by]]} put={(value) => change({ ...step, [field[step.by]]: value })} />}
      {pot && step.by !== "share" && <Figure of={of} said="g, the empty pot" value={step.pot} put={(pot) => change({ ...step, pot })} />}
      {step.kind === "brix" && <Figure of={of} said="°Brix are read" value={step.brix} put={(brix) => change({ ...step, brix })} />}
      {step.kind === "steep" && <SteepChoices step={step} change={change} />}
      {step.kind === "macerate" && (
        <Select
          label="what is used"
          hideLabel
          value={step.keep ?? "both"}
          options={[
            { key: "syrup", name: "the syrup is used" },
            { key: "fruit", name: "the fruit is used" },
            { key: "both", name: "both are used" },
          ]}
          onChange={(key) => change({ ...step, keep: key as Step["keep"] })}
        />
      )}
    </div>
  );
}

function Figure({ of, said, value, put }: { of: string; said: string; value: string; put: (value: string) => void }) {
  const id = useId();
  const wrong = value.trim() !== "" && readNumber(value) === null;
  return (
    <span className="grid gap-0.5">
      <span className="flex items-center gap-2">
        <input
          id={id}
          value={value}
          inputMode="decimal"
          maxLength={10}
          aria-label={`${said}, ${of}`}
          aria-invalid={wrong ? true : undefined}
          onChange={(event) => put(event.target.value)}
          className={`${inputClass} min-h-8! w-18! px-2! py-0.5! text-right font-semibold`}
        />
        <label htmlFor={id} className="leading-tight text-muted">
          {said}
        </label>
      </span>
      {wrong && (
        <span role="alert" className="text-hot">
          Not a number; write one like 3,5.
        </span>
      )}
    </span>
  );
}

function SteepChoices({ step, change }: { step: Step; change: (step: Step) => void }) {
  return (
    <>
      <Select
        label="what is done to the leaves"
        hideLabel
        value={step.pressed ? "pressed" : "drained"}
        options={[
          { key: "pressed", name: "leaves pressed" },
          { key: "drained", name: "left to drain" },
        ]}
        onChange={(key) => change({ ...step, pressed: key === "pressed" })}
      />
      <Select
        label="what they keep"
        hideLabel
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
