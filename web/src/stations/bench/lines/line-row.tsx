import { Lock } from "lucide-react";
import { type KeyboardEvent, memo, type MouseEvent, useId, useState } from "react";

import { CompositionBar } from "../../../charts/composition-bar";
import { DoseBar, endOfDose } from "../../../charts/dose-bar";
import type { Schemas } from "../../../shared/api/client";
import { useVocabulary } from "../../../shared/api/vocabulary";
import { grams, shown } from "../../../shared/format/numbers";
import { type Edit, type Line, typedGrams } from "../draft/draft";
import type { LineReading } from "../draft/use-analysis";
import { type OpenLineDialog, LineMenu } from "./line-menu";
import { typing } from "./typing";
import { useDrag } from "./use-drag";
import { useSelected } from "./use-selected";
import { inView, type View } from "./view";

type Props = {
  line: Line;
  proposed: Schemas["ProposedLine"] | undefined;
  reading: LineReading | undefined;
  mixIn: Schemas["MixInOut"] | undefined;
  mistakable: string[] | undefined;
  ask: OpenLineDialog;
  point: (key: string | null) => void;
  /** g that fill a bar. */
  most: number;
  /** g of the mix, where the row has to do with it. */
  massG: number | null;
  /** What the kitchen's scale can tell apart, g. */
  step: number;
  view: View;
  water: boolean;
  chosen: boolean;
  choosing: boolean;
  choose: (key: string) => void;
  edit: (edit: Edit) => void;
};

/** One line: its name, what was typed, and as a bar what it brings. */
export const LineRow = memo(function LineRow(props: Props) {
  const { line, reading, edit, mixIn, proposed, ask, choose } = props;
  const name = reading?.name ?? spoken(line.ingredient);
  const { stages } = useVocabulary();
  const id = useId();
  const [focused, setFocused] = useState(false);
  const selected = useSelected(focused);
  const error = focused && line.typed === "" ? null : (reading?.error ?? null);
  const bare = !/[a-z%]/i.test(line.typed);
  const inGrams = bare ? line.unit === "g" : /\dg$|\d g$/i.test(line.typed.trim());
  const converted = !reading?.error && reading?.grams != null && (!inGrams || reading.assumed !== null);
  const read = reading && !reading.error ? reading.grams : (line.grams ?? null);
  const seen = focused || error ? null : inView(props.view, read, reading?.measure ?? null, props.massG);

  function type(typed: string) {
    edit({ kind: "type", key: line.key, typed, read });
  }

  function weigh(weight: number) {
    type(String(Math.round(weight * 1000) / 1000) + (line.unit === "g" ? "" : " g"));
  }

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
    if (event.altKey) weigh(Math.max(0, (typedGrams(line) ?? read ?? 0) - by * props.step * (event.shiftKey ? 10 : 1)));
    else if (event.ctrlKey || event.metaKey) edit({ kind: "shift", key: line.key, by });
    else {
      if (event.shiftKey) choose(line.key);
      focusNeighbour(event.currentTarget, by);
    }
  }

  function press(event: MouseEvent) {
    if (!event.ctrlKey && !event.metaKey && !event.shiftKey) return;
    event.preventDefault();
    choose(line.key);
  }

  return (
    <li
      className={`rounded-button [contain:layout_style] hover:bg-steel/60 ${props.chosen ? "bg-steel" : ""}`}
      onPointerEnter={(event) => event.pointerType === "mouse" && props.point(line.key)}
      onFocus={() => props.point(line.key)}
      onBlur={() => props.point(null)}
    >
      <div className="grid grid-cols-[1.75rem_minmax(6rem,1fr)_6rem_3.5rem] items-center gap-x-2 md:grid-cols-[1.75rem_minmax(6rem,1fr)_6.5rem_minmax(3rem,8.5rem)]">
        <span className="grid place-items-center">
          {props.choosing ? (
            <input type="checkbox" aria-label={`Choose ${name}`} checked={props.chosen} onChange={() => choose(line.key)} className="size-6" />
          ) : (
            <LineMenu name={name} stage={line.stage ?? null} stages={stages} lineKey={line.key} pinned={line.pinned} edit={edit} ask={ask} choose={choose} />
          )}
        </span>
        <span className="flex min-w-0 items-baseline gap-2">
          <label htmlFor={id} className="truncate" title={name} onClick={press}>
            {name}
          </label>
          {line.pinned && (
            <span className="flex shrink-0 items-center gap-0.5 text-sm text-muted">
              <Lock size={12} aria-hidden /> pinned
            </span>
          )}
          {proposed && (
            <b className="shrink-0 text-sm" data-proposed>
              → {grams(proposed.after_g)} g{proposed.was === proposed.name ? "" : ` ${proposed.name}`}
            </b>
          )}
        </span>
        <span className="flex items-baseline gap-0.5">
          <input
            id={id}
            {...selected}
            data-amount={line.key}
            value={seen ?? line.typed}
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
            }`}
          />
          <span className="w-3.5 shrink-0 text-sm text-muted">{bare && seen === null ? line.unit : ""}</span>
        </span>
        <LineBar {...props} name={name} read={read} weigh={weigh} />
      </div>
      {converted && (
        <p className="pb-0.5 pl-9 text-sm text-muted">
          = {grams(reading.grams ?? 0)} g{reading.assumed && `, by ${reading.assumed}`}
        </p>
      )}
      <Held line={line} />
      {reading?.mind && <p className="mb-1 ml-9 border-l-3 border-hot pl-2 text-sm">{reading.mind}</p>}
      {reading?.offends && (
        <p className="pb-0.5 pl-9 text-sm text-hot">
          {name} {reading.offends}.{" "}
          <button type="button" className="underline" onClick={() => ask("look", line.key)}>
            What could stand in?
          </button>
        </p>
      )}
      {props.mistakable && props.mistakable.length > 0 && (
        <p className="pb-0.5 pl-9 text-sm text-muted">
          Not {props.mistakable.slice(0, 2).join(" or ")}?{" "}
          <button type="button" className="underline" onClick={() => ask("look", line.key)}>
            What that would do
          </button>
        </p>
      )}
      {mixIn && (
        <p className="pb-0.5 pl-9 text-sm text-muted">
          {shown(mixIn.share_pct)} % of the tub. {mixIn.message} {mixIn.advice}
        </p>
      )}
      {error && (
        <p id={`${id}-error`} role="status" className="pb-1 pl-9 text-sm text-hot">
          {error}
        </p>
      )}
    </li>
  );
});

/** The bar of a line, which a mouse may also drag to weigh it; keys do the same from the amount. */
function LineBar(props: Props & { name: string; read: number | null; weigh: (grams: number) => void }) {
  const { reading, read, most, water, name, edit, massG } = props;
  const dose = reading?.dose;
  const length = (reading?.strata ?? []).reduce((sum, part) => sum + (water || part.key !== "water" ? part.grams : 0), 0);
  const drag = useDrag({
    grams: read,
    step: dose ? props.step / 10 : props.step,
    perPixel: (width) => (dose && massG ? (endOfDose(dose) * massG) / 100 / width : ((read && length ? read / length : 1) * most) / width),
    weigh: props.weigh,
    done: () => edit({ kind: "done" }),
    retract: () => edit({ kind: "retract" }),
  });
  return (
    <span {...drag} className="cursor-ew-resize touch-pan-y py-1.5" data-bar={props.line.key}>
      {dose ? <DoseBar dose={dose} of={name} /> : <CompositionBar parts={reading?.strata ?? []} most={most} water={water} of={name} />}
    </span>
  );
}

/** What is noted of a line, and what Balance may do with it. */
function Held({ line }: { line: Line }) {
  const least = line.least_g ?? null;
  const most = line.most_g ?? null;
  const limits = [
    least !== null && most !== null ? `${grams(least)} to ${grams(most)} g` : least !== null ? `at least ${grams(least)} g` : most !== null ? `at most ${grams(most)} g` : "",
    line.whole ? `each ${line.whole} whole` : line.step_g ? `in steps of ${grams(line.step_g)} g` : "",
  ].filter(Boolean);
  if (limits.length === 0 && !line.note) return null;
  return (
    <p className="pb-0.5 pl-9 text-sm text-muted">
      {line.note && <i>{line.note}</i>}
      {line.note && limits.length > 0 && " · "}
      {limits.join(", ")}
    </p>
  );
}

/** The name of an ingredient until the server has said it. */
function spoken(slug: string): string {
  const words = slug.replaceAll("-", " ");
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** Go to the amount below or above; to another where there is none. */
function focusNeighbour(from: HTMLElement, by: 1 | -1, otherwise?: 1 | -1) {
  const all = [...document.querySelectorAll<HTMLInputElement>("input[data-amount]")];
  const at = all.indexOf(from as HTMLInputElement);
  (all[at + by] ?? (otherwise ? all[at + otherwise] : undefined))?.focus();
}
