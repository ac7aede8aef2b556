import { type KeyboardEvent, useEffect, useRef, useState } from "react";

import type { Schemas } from "../../../shared/api/client";
import { useVocabulary } from "../../../shared/api/vocabulary";

import { Key } from "../../../ui/button";
import { inputClass } from "../../../ui/field";
import { useTypedLine } from "../../shelf/use-typed-line";
import { isOpen, type PastedLine } from "./reading";
import { Select } from "../../../ui/select";
import { Checkbox } from "../../../ui/checkbox";
import { useUnits } from "../../../shared/format/units";

/** What is asked of a line whose stage the recipe leaves open. */
const WHEN = "When does it go in?";

type Props = {
  line: PastedLine;
  current: boolean;
  choose: () => void;
  change: (changes: Partial<PastedLine>, goOn?: boolean) => void;
  step: (by: 1 | -1) => void;
};

/** One line of a recipe: as it was written, what it is taken for, and how to say otherwise. */
export function LineOfRecipe({ line, current, choose, change, step }: Props) {
  const units = useUnits();
  const row = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (current && !row.current?.contains(document.activeElement)) row.current?.focus();
  }, [current]);

  function askAmount() {
    if (!line.typed.trim()) row.current?.querySelector<HTMLInputElement>("input")?.focus();
  }

  function keys(event: KeyboardEvent<HTMLLIElement>) {
    if (event.target !== row.current) return;
    const choice = line.choices[Number(event.key) - 1];
    if (choice) {
      change({ ingredient: choice.ingredient, ingredientName: choice.name, settled: true }, line.typed.trim() !== "");
      askAmount();
    } else if (event.key === "Enter" && line.ingredient) {
      if (line.typed.trim()) change({ settled: true, left: false }, true);
      askAmount();
    } else if (event.key === "Delete" || event.key === "Backspace") change({ left: !line.left }, !line.left);
    else if (event.key === "ArrowDown" || event.key === "ArrowUp") step(event.key === "ArrowDown" ? 1 : -1);
    else return;
    event.preventDefault();
  }

  const waits = isOpen(line);
  return (
    // The line is what keys are pressed on: one of the lines is in the order of Tab, and each key it takes is told above.
    /* eslint-disable jsx-a11y/no-noninteractive-element-interactions, jsx-a11y/no-noninteractive-tabindex */
    <li
      ref={row}
      tabIndex={current ? 0 : -1}
      aria-label={`${line.raw}${waits ? ", waits for you" : ""}`}
      aria-current={current}
      onKeyDown={keys}
      onFocus={() => !current && choose()}
      onClick={() => !current && choose()}
      className={`grid gap-x-4 gap-y-1 px-4 py-2 -outline-offset-2 md:grid-cols-[minmax(0,2fr)_16rem_minmax(0,3fr)] ${current ? "shadow-[inset_4px_0_0_var(--ink)]" : ""} ${line.left ? "opacity-55" : ""}`}
    >
      <span className={line.left ? "line-through" : ""}>{line.raw}</span>
      <span className="flex items-baseline gap-2 self-start">
        <input
          value={line.typed}
          aria-label={`Amount of ${line.name || line.raw}`}
          placeholder="how much"
          maxLength={60}
          tabIndex={current ? 0 : -1}
          aria-invalid={line.typed.trim() === "" && !line.left ? true : undefined}
          onChange={(event) => change({ typed: event.target.value, grams: null, assumed: null })}
          onKeyDown={(event) => {
            if (event.key === "Enter" && line.ingredient && line.typed.trim()) {
              event.preventDefault();
              row.current?.focus();
              change({ settled: true }, true);
            }
          }}
          className={`${inputClass} min-h-7! py-0! text-right font-semibold`}
        />
        <span className="w-16 shrink-0 text-sm whitespace-nowrap text-muted" title={line.assumed ?? undefined}>
          {line.grams !== null && `= ${units.mass(line.grams)}`}
        </span>
      </span>
      <span className="grid gap-1">
        <span className="flex flex-wrap items-baseline gap-x-3">
          <b>{line.ingredientName || "?"}</b>
          <StageOfLine line={line} asked={current && !line.left} change={change} />
          {line.form && <span className="text-sm text-muted">{line.form}</span>}
          {line.reduced_to !== null && (
            <Checkbox className="text-sm" checked={line.cookedDown}
                tabIndex={current ? 0 : -1}
                onChange={(checked) => change({ cookedDown: checked })}>
              cook it down to {units.number(100 * line.reduced_to)} %
            </Checkbox>
          )}
        </span>
        {waits && line.doubts.map((doubt) => <span key={doubt} className="text-sm text-hot">{doubt}</span>)}
        {current && !line.left && <Others line={line} change={change} back={() => row.current?.focus()} askAmount={askAmount} />}
      </span>
    </li>
  );
}

/** When the line goes in, and while it is looked at, a choice of it. */
function StageOfLine({ line, asked, change }: { line: PastedLine; asked: boolean; change: Props["change"] }) {
  const { stages } = useVocabulary();
  if (!asked) return <span className="text-sm text-muted">{stages.find(({ key }) => key === line.stage)?.name}</span>;
  return (
    <span className="w-40 text-sm">
      <Select
        label={`When ${line.name || line.raw} goes in`}
        hideLabel
        value={line.stage ?? ""}
        options={[{ key: "", name: "not said yet" }, ...stages]}
        onChange={(stage) => change({ stage: stage || null, doubts: line.doubts.filter((doubt) => doubt !== WHEN) })}
      />
    </span>
  );
}

function asChoice({ ingredient }: Schemas["TypedMatch"]) {
  return { ingredient: ingredient.slug, name: ingredient.name };
}

/** The other things that the line may mean, a key each, and a search for what is not among them. */
function Others(props: { line: PastedLine; change: Props["change"]; back: () => void; askAmount: () => void }) {
  const { line, change, back, askAmount } = props;
  const [wanted, setWanted] = useState("");
  const { matches, choose, forget } = useTypedLine(wanted, 5);
  const others = wanted.trim() ? matches.map(asChoice) : line.choices;
  function take(choice: { ingredient: string; name: string }) {
    setWanted("");
    back();
    change({ ingredient: choice.ingredient, ingredientName: choice.name, settled: true }, line.typed.trim() !== "");
    if (line.typed.trim() === "") askAmount();
  }
  return (
    <span className="flex flex-wrap items-center gap-1.5">
      {others.map((choice, index) => (
        <button
          key={choice.ingredient}
          type="button"
          aria-pressed={choice.ingredient === line.ingredient}
          onClick={() => take(choice)}
          className="rounded-button border border-line bg-panel px-2 py-0.5 text-sm hover:border-muted aria-pressed:border-ink aria-pressed:font-semibold"
        >
          {!wanted && <Key>{String(index + 1)}</Key>} {choice.name}
        </button>
      ))}
      <input
        value={wanted}
        aria-label="Find another on the shelf"
        placeholder="something else…"
        maxLength={100}
        onChange={(event) => {
          setWanted(event.target.value);
          forget();
        }}
        onKeyDown={(event) => {
          if (event.key === "Enter" && wanted.trim()) {
            event.preventDefault();
            choose((found) => found?.[0] && take(asChoice(found[0])));
          } else if (event.key === "Escape") back();
        }}
        className={`${inputClass} min-h-7! w-40! py-0! text-sm`}
      />
    </span>
  );
}
