import { type KeyboardEvent, useState } from "react";

import { useUnits } from "../../../shared/format/units";
import type { LineRowProps } from "./line-row-props";
import { isBare, isBareInOtherUnit } from "./line-unit";
import { typing } from "./typing";
import { useSelected } from "./use-selected";
import { inView } from "./view";

type Props = LineRowProps & {
  id: string;
  /** g as read. */
  read: number | null;
  type: (typed: string) => void;
  /** So many g more. */
  weigh: (by: number) => void;
};

/** How much of it: as it was typed, or in the view that is chosen; keys weigh it, move the line and go on to the next. */
export function LineAmount({ id, line, reading, view, massG, read, actions, step, type, weigh }: Props) {
  const { edit, choose } = actions;
  const units = useUnits();
  const [focused, setFocused] = useState(false);
  const selected = useSelected(focused);
  const error = focused && line.typed === "" ? null : (reading?.error ?? null);
  const seen = focused || error ? null : inView(view, read, reading?.measure ?? null, massG, units);
  const elsewhere = !focused && !error && read !== null && isBareInOtherUnit(line, units);
  const shown = seen ?? (elsewhere ? units.massFigure(read) : line.typed);
  const unit = seen !== null || !isBare(line) ? "" : elsewhere ? units.massUnit : line.unit;

  function keys(event: KeyboardEvent<HTMLInputElement>) {
    typing(edit).onKeyDown(event);
    if (event.altKey && (event.key === "Backspace" || event.key === "Delete")) {
      event.preventDefault();
      focusNeighbour(event.currentTarget, 1, -1);
      edit({ kind: "remove", keys: [line.key] });
    }
    if (event.key !== "ArrowUp" && event.key !== "ArrowDown") return;
    event.preventDefault();
    const by = event.key === "ArrowUp" ? -1 : 1;
    if (event.altKey) weigh(-by * step * (event.shiftKey ? 10 : 1));
    else if (event.ctrlKey || event.metaKey) edit({ kind: "shift", key: line.key, by });
    else {
      if (event.shiftKey) choose(line.key);
      focusNeighbour(event.currentTarget, by);
    }
  }

  return (
    <span className="flex items-baseline gap-0.5">
      <input
        id={id}
        {...selected}
        data-amount={line.key}
        value={shown}
        title={shown.length > LONG ? shown : undefined}
        onChange={(event) => type(event.target.value)}
        onKeyDown={keys}
        onFocus={() => setFocused(true)}
        onBlur={() => {
          setFocused(false);
          edit({ kind: "done" });
        }}
        maxLength={60}
        autoComplete="off"
        inputMode="text"
        placeholder="how much"
        aria-invalid={error ? true : undefined}
        aria-describedby={error ? `${id}-error` : undefined}
        className={`w-full min-w-0 rounded-button border px-1.5 py-0.5 text-right font-semibold hover:border-line ${
          error ? "border-hot" : "border-transparent"
        } ${sizeFor(shown)}`}
      />
      <span className="w-4 shrink-0 text-sm text-muted">{unit}</span>
    </span>
  );
}

/** From so many letters an amount is set smaller, so that “1 tbsp + 1 tsp” and “1¾ cups + 2½ tbsp” stand whole in their field. */
const LONG = 11;
const LONGER = 16;

function sizeFor(shown: string): string {
  if (shown.length > LONGER) return "text-xs tracking-tight";
  return shown.length > LONG ? "text-sm tracking-tight" : "";
}

/** Go to the amount below or above; to another where there is none. */
function focusNeighbour(from: HTMLElement, by: 1 | -1, otherwise?: 1 | -1) {
  const all = [...document.querySelectorAll<HTMLInputElement>("input[data-amount]")];
  const at = all.indexOf(from as HTMLInputElement);
  (all[at + by] ?? (otherwise ? all[at + otherwise] : undefined))?.focus();
}
