import { Lock, MoreVertical } from "lucide-react";
import { type KeyboardEvent, memo, useId, useState } from "react";

import type { Schemas } from "../../api/client";
import { useVocabulary } from "../../api/queries";
import { CompositionBar } from "../../charts/composition-bar";
import { DoseBar } from "../../charts/dose-bar";
import { grams, shown } from "../../ui/numbers";
import { Key } from "../../ui/button";
import { Menu, MenuItem, MenuLine } from "../../ui/menu";
import { AddLine } from "./add-line";
import { changes } from "./balance/proposal";
import { byStage, type Draft, type Edit, type Line } from "./draft";
import { LineDialog } from "./line-dialog";
import { LineSlack } from "./line-slack";
import type { Lit } from "./lit";
import type { DraftReading } from "./use-analysis";

type Props = {
  draft: Draft;
  reading: DraftReading | undefined;
  edit: (edit: Edit) => void;
  prepare: (at: number) => void;
  freezer: number;
  pointed: string | null;
  point: (key: string | null) => void;
  lit: Lit | null;
  proposal: Schemas["Proposal"] | null;
};

/** What goes in: every line by its stage, its length grams and its colours what it brings. */
export function GoesIn({ draft, reading, edit, prepare, freezer, pointed, point, lit, proposal }: Props) {
  const { stages, beside } = useVocabulary();
  const [water, setWater] = useState(false);
  const [lookedAt, setLookedAt] = useState<string | null>(null);
  const [mistakable, setMistakable] = useState<Record<string, string[]>>({});
  const groups = byStage(draft.lines, stages.map((stage) => stage.key));
  const stageName = new Map(stages.map((stage) => [stage.key, stage.name]));
  const lengths = draft.lines.map((line) => lengthOf(reading?.lines[line.key]?.strata ?? [], water));
  const most = Math.max(...lengths, 1);

  return (
    <section aria-labelledby="goes-in" className="panel flex min-h-0 min-w-0 flex-col p-3.5">
      <div className="mb-1 flex items-baseline gap-3">
        <h2 id="goes-in">Goes in</h2>
        <span className="text-muted">{reading?.analysis ? `${shown(reading.analysis.mass_g)} g` : ""}</span>
        <button type="button" aria-pressed={water} onClick={() => setWater(!water)} className="ml-auto text-sm text-muted underline">
          {water ? "leave water out" : "show water"}
        </button>
      </div>
      <div className="-mx-1 min-h-0 flex-1 overflow-y-auto px-1" onPointerLeave={() => point(null)}>
        {groups.map((group) => (
          <div key={group.stage ?? "first"} role="group" aria-label={stageName.get(group.stage ?? "") ?? "First"} className="mb-1.5">
            <h3 className="pt-1 font-sans text-sm font-bold tracking-normal">{stageName.get(group.stage ?? "") ?? "First"}</h3>
            <ul>
              {group.lines.map((line) => (
                <LineRow
                  key={line.key}
                  line={line}
                  proposed={proposal?.lines.find((one) => one.line === draft.lines.indexOf(line) && changes(one))}
                  reading={reading?.lines[line.key]}
                  beside={reading?.beside[line.key]}
                  mistakable={mistakable[line.key]}
                  look={setLookedAt}
                  point={point}
                  most={most}
                  water={water}
                  edit={edit}
                />
              ))}
            </ul>
          </div>
        ))}
        {draft.lines.length === 0 && (
          <p className="py-6 text-muted">
            Nothing in it yet. Find the first ingredient below, then say how much: <b>480</b>, <b>½ cup</b>, <b>1 1/2 oz</b> or <b>4 yolks</b>.
          </p>
        )}
      </div>
      <LineSlack draft={draft} freezer={freezer} lineKey={pointed} lit={lit} />
      <AddLine
        edit={edit}
        lastStage={draft.lines.findLast((line) => !beside.includes(line.stage ?? ""))?.stage ?? "pot"}
        first={draft.lines.length === 0}
        added={(key, mistakenFor) => setMistakable((before) => ({ ...before, [key]: mistakenFor }))}
      />
      <LineDialog draft={draft} lineKey={lookedAt} edit={edit} prepare={prepare} onClose={() => setLookedAt(null)} />
    </section>
  );
}

function lengthOf(parts: Schemas["Part"][], water: boolean): number {
  return parts.reduce((sum, part) => sum + (water || part.key !== "water" ? part.grams : 0), 0);
}

const LineRow = memo(function LineRow(props: {
  line: Line;
  proposed: Schemas["ProposedLine"] | undefined;
  reading: Schemas["LineAnalysis"] | undefined;
  beside: Schemas["BesideOut"] | undefined;
  mistakable: string[] | undefined;
  look: (key: string) => void;
  point: (key: string | null) => void;
  most: number;
  water: boolean;
  edit: (edit: Edit) => void;
}) {
  const { line, reading, edit, beside, proposed } = props;
  const name = reading?.name ?? spoken(line.ingredient);
  const { stages } = useVocabulary();
  const id = useId();
  const [focused, setFocused] = useState(false);
  const error = focused && line.typed === "" ? null : (reading?.error ?? null);
  const bare = !/[a-z]/i.test(line.typed);
  const inGrams = bare ? line.unit === "g" : /\dg$|\d g$/i.test(line.typed.trim());
  const converted = !reading?.error && reading?.grams != null && (!inGrams || reading.assumed !== null);
  const read = reading && !reading.error ? reading.grams : (line.grams ?? null);

  function type(typed: string) {
    edit({ kind: "type", key: line.key, typed, read });
  }

  function keys(event: KeyboardEvent<HTMLInputElement>) {
    if (event.key !== "ArrowUp" && event.key !== "ArrowDown") return;
    event.preventDefault();
    const up = event.key === "ArrowUp";
    if (event.altKey) {
      const step = (event.shiftKey ? 10 : 1) * (up ? 1 : -1);
      type(String(Math.max(0, Math.round(((read ?? 0) + step) * 10) / 10)) + (line.unit === "g" ? "" : " g"));
    } else if (event.ctrlKey || event.metaKey) {
      edit({ kind: "shift", key: line.key, by: up ? -1 : 1 });
    } else {
      focusNeighbour(event.currentTarget, up ? -1 : 1);
    }
  }

  return (
    <li
      className="rounded-button hover:bg-steel/60"
      onPointerEnter={(event) => event.pointerType === "mouse" && props.point(line.key)}
      onFocus={() => props.point(line.key)}
      onBlur={() => props.point(null)}
    >
      <div className="grid grid-cols-[1.75rem_minmax(6rem,1fr)_6rem_3.5rem] md:grid-cols-[1.75rem_minmax(6rem,1fr)_6.5rem_minmax(3rem,8.5rem)] items-center gap-x-2">
        <LineMenu name={name} stage={line.stage ?? null} stages={stages} lineKey={line.key} pinned={line.pinned} edit={edit} look={props.look} />
        <span className="flex min-w-0 items-baseline gap-2">
          <label htmlFor={id} className="truncate" title={name}>
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
            data-amount={line.key}
            value={line.typed}
            onChange={(event) => type(event.target.value)}
            onKeyDown={keys}
            onFocus={(event) => {
              setFocused(true);
              event.currentTarget.select();
            }}
            onBlur={() => setFocused(false)}
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
          <span className="w-3.5 shrink-0 text-sm text-muted">{bare ? line.unit : ""}</span>
        </span>
        {reading?.dose ? (
          <DoseBar dose={reading.dose} of={name} />
        ) : (
          <CompositionBar parts={reading?.strata ?? []} most={props.most} water={props.water} of={name} />
        )}
      </div>
      {converted && (
        <p className="pb-0.5 pl-9 text-sm text-muted">
          = {grams(reading.grams ?? 0)} g{reading.assumed && `, by ${reading.assumed}`}
        </p>
      )}
      {reading?.mind && <p className="mb-1 ml-9 border-l-3 border-hot pl-2 text-sm">{reading.mind}</p>}
      {reading?.offends && (
        <p className="pb-0.5 pl-9 text-sm text-hot">
          {name} {reading.offends}.{" "}
          <button type="button" className="underline" onClick={() => props.look(line.key)}>
            What could stand in?
          </button>
        </p>
      )}
      {props.mistakable && props.mistakable.length > 0 && (
        <p className="pb-0.5 pl-9 text-sm text-muted">
          Not {props.mistakable.slice(0, 2).join(" or ")}?{" "}
          <button type="button" className="underline" onClick={() => props.look(line.key)}>
            What that would do
          </button>
        </p>
      )}
      {beside && (
        <p className="pb-0.5 pl-9 text-sm text-muted">
          {shown(beside.share_pct)} % of the tub. {beside.said} {beside.advice}
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

const LineMenu = memo(function LineMenu(props: {
  name: string;
  stage: string | null;
  stages: Schemas["Named"][];
  lineKey: string;
  pinned: boolean;
  edit: (edit: Edit) => void;
  look: (key: string) => void;
}) {
  const { lineKey: key, edit } = props;
  return (
    <Menu label={`Change line ${props.name}`} trigger={<MoreVertical size={16} aria-hidden />}>
      <MenuItem onSelect={() => props.look(key)}>Look closer, swap…</MenuItem>
      <MenuLine />
      <MenuItem onSelect={() => edit({ kind: "pin", key })}>
        {props.pinned ? "Unpin" : "Pin for Balance"} <Key>Alt P</Key>
      </MenuItem>
      <MenuItem onSelect={() => edit({ kind: "shift", key, by: -1 })}>
        Move up <Key>Ctrl ↑</Key>
      </MenuItem>
      <MenuItem onSelect={() => edit({ kind: "shift", key, by: 1 })}>
        Move down <Key>Ctrl ↓</Key>
      </MenuItem>
      <MenuLine>Goes in at</MenuLine>
      {props.stages.map((stage) => (
        <MenuItem key={stage.key} onSelect={() => edit({ kind: "stage", key, stage: stage.key })}>
          {stage.name}
          <span aria-hidden>{stage.key === props.stage ? "•" : ""}</span>
        </MenuItem>
      ))}
      <MenuLine />
      <MenuItem onSelect={() => edit({ kind: "remove", key })}>Remove this line</MenuItem>
    </Menu>
  );
});

/** The name of an ingredient until the server has said it. */
function spoken(slug: string): string {
  const words = slug.replaceAll("-", " ");
  return words.charAt(0).toUpperCase() + words.slice(1);
}

function focusNeighbour(from: HTMLElement, by: 1 | -1) {
  const all = [...document.querySelectorAll<HTMLInputElement>("input[data-amount]")];
  all[all.indexOf(from as HTMLInputElement) + by]?.focus();
}
