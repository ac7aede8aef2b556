import type { Schemas } from "../../../shared/api/client";
import { readNumber } from "../../../shared/format/numbers";
import { fromUnit, type MassUnit, typedMass } from "../../../shared/format/units";

/** A line of the draft; the key is the browser's own and lives as long as the page. */
export type Line = Schemas["DraftLine"] & { key: string };

export type Draft = {
  name: string;
  style: string | null;
  /** Overrun as typed. */
  overrun: string;
  /** The last overrun that could be read; it counts while something unreadable stands in the field. */
  overrunRead: number | null;
  /** Restrictions of this mix alone, beside those of the kitchen. */
  restrictions: string[];
  /** Bands of this mix's own, least and most by quantity. */
  aims: Record<string, number[]>;
  /** The machine it is meant for, by its number. */
  machine: number | null;
  /** Number of the revision that it goes on from. */
  basedOn: number | null;
  lines: Line[];
};

/** A line as proposed: of one that is there, or a new one where there is no key. */
export type AcceptedLine = { key: string | null; ingredient: string; grams: number; stage: string | null };

/** A line as scaled: what would be typed. */
export type ScaledLine = { key: string; typed: string; unit: string; grams: number };

/** What is being typed: it counts at once, and is one step of undo once it is done. */
type Typing =
  | { kind: "name"; name: string }
  | { kind: "overrun"; overrun: string }
  | { kind: "type"; key: string; typed: string; read: number | null };

export type DraftState = {
  present: Draft;
  past: Draft[];
  future: Draft[];
  typing: Typing | null;
  /** The draft as it counts now: the present with what is being typed. */
  shown: Draft;
  /** What amounts are written in that nobody typed. */
  unit: MassUnit;
};

/** What Balance may do with a line, and what there is to say of it. */
export type Held = Pick<Line, "least_g" | "most_g" | "step_g" | "whole" | "note" | "form">;

export type Edit =
  | Typing
  | { kind: "done" }
  | { kind: "retract" }
  | { kind: "style"; style: string | null }
  | { kind: "machine"; machine: number | null }
  | { kind: "hold"; key: string; held: Partial<Held> }
  | { kind: "scale"; lines: ScaledLine[]; times: number }
  | { kind: "based"; on: number }
  | { kind: "restrictions"; restrictions: string[] }
  | { kind: "add"; line: Line }
  | { kind: "aim"; of: string; band: number[] | null }
  | { kind: "restore"; revision: Schemas["RevisionDetail"] }
  | { kind: "accept"; lines: AcceptedLine[]; overrun?: number | null }
  | { kind: "pin"; keys: string[]; pinned?: boolean }
  | { kind: "swap"; key: string; lines: { ingredient: string; typed: string }[] }
  | { kind: "prepared"; key: string; line: { ingredient: string; typed: string }; left: Record<string, string> }
  | { kind: "remove"; keys: string[] }
  | { kind: "times"; keys: string[]; times: number; read: Record<string, number | null> }
  | { kind: "shift"; key: string; by: 1 | -1 }
  | { kind: "stage"; keys: string[]; stage: string | null }
  | { kind: "undo" }
  | { kind: "redo" }
  | { kind: "adopt"; draft: Draft };

const MOST_STEPS = 200;

export function newKey(): string {
  return Math.random().toString(36).slice(2);
}

/** A line as it comes in: nothing is known of it but what goes in, how much, and where. */
export function newLine(ingredient: string, typed: string, stage: string | null, key: string = newKey(), unit: MassUnit = "g"): Line {
  return { key, ingredient, typed, unit, grams: null, stage, pinned: false, note: "" };
}

export function draftOf(mix: Schemas["MixOut"]): Draft {
  return {
    name: mix.name,
    style: mix.style ?? null,
    overrun: mix.overrun_pct === null || mix.overrun_pct === undefined ? "" : String(mix.overrun_pct),
    overrunRead: mix.overrun_pct ?? null,
    restrictions: mix.restrictions ?? [],
    aims: mix.aims ?? {},
    machine: mix.machine ?? null,
    basedOn: mix.based_on ?? null,
    lines: mix.lines.map((line) => ({ ...line, key: newKey() })),
  };
}

/** A draft whose lines keep the keys that those of another have for the same ingredient: what is drawn stays where it is. */
export function withKeysOf(draft: Draft, other: Draft): Draft {
  const free = [...other.lines];
  const lines = draft.lines.map((line) => {
    const at = free.findIndex(({ ingredient }) => ingredient === line.ingredient);
    const [same] = at < 0 ? [] : free.splice(at, 1);
    return same ? { ...line, key: same.key } : line;
  });
  return { ...draft, lines };
}

/** Read an overrun: a number from 0 to 300, null where nothing is typed, undefined where it cannot be read. */
function readOverrun(typed: string): number | null | undefined {
  if (typed.trim() === "") return null;
  const value = Number(typed.trim().replace(",", "."));
  return Number.isFinite(value) && value >= 0 && value <= 300 ? value : undefined;
}

export function overrunError(draft: Draft): string | null {
  return readOverrun(draft.overrun) === undefined ? "Air is 0 to 300 % overrun." : null;
}

/** A line as the server takes it; one that an older page left in this browser has neither pin nor note. */
export function bare({ key: _, ...line }: Line): Schemas["DraftLine"] {
  return { ...line, pinned: line.pinned ?? false, note: line.note ?? "" };
}

type Body = Omit<Schemas["DraftToAnalyse"], "freezer_c">;

/** Drafts never change once they are made, so each is written for the server once. */
const bodies = new WeakMap<Draft, { body: Body; written: string }>();

function sent(draft: Draft): { body: Body; written: string } {
  let known = bodies.get(draft);
  if (!known) {
    const body = newBody(draft);
    known = { body, written: JSON.stringify(body) };
    bodies.set(draft, known);
  }
  return known;
}

/** The draft as the server takes it. */
export function bodyOf(draft: Draft): Body {
  return sent(draft).body;
}

/** The same as text: a key for all that is computed of it. */
export function writtenOf(draft: Draft): string {
  return sent(draft).written;
}

function newBody(draft: Draft): Body {
  return {
    style: draft.style,
    overrun_pct: draft.overrunRead,
    restrictions: draft.restrictions ?? [], // a draft that an older page left in this browser has none
    aims: draft.aims ?? {},
    machine: draft.machine ?? null,
    lines: draft.lines.map(bare),
  };
}

/** Lines by stage, in the order of the stages; within a stage in their own order. */
export function byStage(lines: Line[], stages: string[]): { stage: string | null; lines: Line[] }[] {
  return [null, ...stages]
    .map((stage) => ({ stage, lines: lines.filter((line) => (line.stage ?? null) === stage) }))
    .filter((group) => group.lines.length > 0);
}

export function begun(present: Draft, unit: MassUnit = "g"): DraftState {
  return at(unit, present, [], []);
}

function at(unit: MassUnit, present: Draft, past: Draft[], future: Draft[]): DraftState {
  return { unit, present, past, future, typing: null, shown: present };
}

export function edited(state: DraftState, edit: Edit): DraftState {
  switch (edit.kind) {
    case "name":
    case "overrun":
    case "type":
      return typing(samePlace(state.typing, edit) ? state : done(state), edit);
    case "done":
      return done(state);
    case "retract":
      return state.typing ? { ...state, typing: null, shown: state.present } : state;
    case "based": {
      const { present, past, future } = done(state);
      return at(state.unit, { ...present, basedOn: edit.on }, past, future);
    }
    case "undo": {
      const { present, past, future } = done(state);
      const [last, ...rest] = past;
      return last ? at(state.unit, last, rest, [present, ...future]) : state;
    }
    case "redo": {
      const { present, past, future } = done(state);
      const [next, ...rest] = future;
      return next ? at(state.unit, next, [present, ...past], rest) : state;
    }
    default:
      return stepped(done(state), apply(done(state).present, edit, state.unit));
  }
}

function samePlace(typing: Typing | null, edit: Typing): boolean {
  return typing?.kind === edit.kind && (typing.kind !== "type" || edit.kind !== "type" || typing.key === edit.key);
}

function typing(state: DraftState, edit: Typing): DraftState {
  return { ...state, typing: edit, shown: apply(state.present, edit, state.unit) };
}

/** What was being typed becomes a step, if it says anything else than before. */
function done(state: DraftState): DraftState {
  return state.typing ? stepped(state, state.shown) : state;
}

function stepped({ unit, present, past, future }: DraftState, next: Draft): DraftState {
  if (next === present || saysTheSame(next, present)) return at(unit, present, past, future);
  return at(unit, next, [present, ...past].slice(0, MOST_STEPS), []);
}

function saysTheSame(one: Draft, other: Draft): boolean {
  return JSON.stringify(one) === JSON.stringify(other);
}

type Change = Exclude<Edit, { kind: "undo" | "redo" | "done" | "retract" | "based" }>;

function apply(draft: Draft, edit: Change, unit: MassUnit): Draft {
  switch (edit.kind) {
    case "name":
      return { ...draft, name: edit.name };
    case "adopt":
      return edit.draft;
    case "style":
      return { ...draft, style: edit.style };
    case "machine":
      return { ...draft, machine: edit.machine };
    case "overrun": {
      const read = readOverrun(edit.overrun);
      return { ...draft, overrun: edit.overrun, overrunRead: read === undefined ? draft.overrunRead : read };
    }
    case "restrictions":
      return { ...draft, restrictions: edit.restrictions };
    case "aim": {
      const { [edit.of]: _, ...aims } = draft.aims ?? {};
      return { ...draft, aims: edit.band ? { ...aims, [edit.of]: edit.band } : aims };
    }
    case "restore":
      return restored(draft, edit.revision);
    case "accept": {
      const { overrun } = edit;
      const aired = overrun === undefined || overrun === null ? draft : { ...draft, overrun: String(overrun), overrunRead: overrun };
      return edit.lines.reduce((now, line) => accepted(now, line, unit), aired);
    }
    case "scale":
      return edit.lines.reduce((scaled, line) => resized(scaled, line, edit.times), draft);
    case "times":
      return withLines(draft, edit.keys, (line) => timesAsMuch(line, edit.times, edit.read[line.key] ?? null, unit));
    case "pin": {
      const pinned = edit.pinned ?? !draft.lines.filter(({ key }) => edit.keys.includes(key)).every((line) => line.pinned);
      return withLines(draft, edit.keys, (line) => ({ ...line, pinned }));
    }
    case "hold":
      return withLines(draft, [edit.key], (line) => ({ ...line, ...edit.held }));
    case "swap":
      return { ...draft, lines: draft.lines.flatMap((line) => (line.key === edit.key ? swapped(line, edit.lines, unit) : [line])) };
    case "prepared":
      return prepared(draft, edit, unit);
    case "type":
      return withLines(draft, [edit.key], (line) => ({ ...line, typed: edit.typed, grams: edit.read }));
    case "stage":
      return withLines(draft, edit.keys, (line) => ({ ...line, stage: edit.stage }));
    case "add":
      return { ...draft, lines: [...draft.lines, edit.line] };
    case "remove":
      return { ...draft, lines: draft.lines.filter((line) => !edit.keys.includes(line.key)) };
    case "shift":
      return shifted(draft, edit.key, edit.by);
  }
}

/** A line of another size; its limits grow with it. */
function resized(draft: Draft, { key, typed, unit, grams }: ScaledLine, times: number): Draft {
  const by = (limit: number | null | undefined) => (limit === null || limit === undefined ? null : Math.round(limit * times * 100) / 100);
  return withLines(draft, [key], (line) => ({ ...line, typed, unit, grams, least_g: by(line.least_g), most_g: by(line.most_g) }));
}

/** The lines, style, air and aims of a revision, and the draft goes on from it; name, machine and restrictions stay. */
function restored(draft: Draft, revision: Schemas["RevisionDetail"]): Draft {
  const { style, overrun_pct: overrun, aims, lines } = revision;
  return {
    ...draft,
    style: style ?? null,
    overrun: overrun === null || overrun === undefined ? "" : String(overrun),
    overrunRead: overrun ?? null,
    aims: aims ?? {},
    basedOn: revision.number,
    lines: lines.map((line) => ({ ...line, key: newKey() })),
  };
}

function accepted(draft: Draft, { key, ingredient, grams, stage }: AcceptedLine, unit: MassUnit): Draft {
  const typed = typedMass(grams, unit, 3);
  if (key !== null) return withLines(draft, [key], (line) => ({ ...line, ingredient, typed, unit, grams }));
  return { ...draft, lines: [...draft.lines, { ...newLine(ingredient, typed, stage, newKey(), unit), grams }] };
}

/** A line of another amount; one of which nobody knows what it weighs stays as it is. */
function timesAsMuch(line: Line, times: number, read: number | null, unit: MassUnit): Line {
  const weight = typedGrams(line) ?? read;
  return weight === null ? line : { ...line, typed: typedMass(weight * times, unit), unit, grams: weight * times };
}

/** The g that stand in a line in so many words: keys pressed quickly need not wait for the server's reading. */
export function typedGrams(line: Line): number | null {
  const [, figure, written] = /^(.*\d)\s*(g|oz)?$/.exec(line.typed.trim()) ?? [];
  const unit = written ?? line.unit;
  const amount = figure === undefined || (unit !== "g" && unit !== "oz") ? null : readNumber(figure);
  return amount === null ? null : fromUnit(amount, unit as MassUnit);
}

/** The lines that take the place of one; the first keeps its place on the page. */
function swapped(line: Line, lines: { ingredient: string; typed: string }[], unit: MassUnit): Line[] {
  return lines.map((other, index) => newLine(other.ingredient, other.typed, line.stage ?? null, index === 0 ? line.key : newKey(), unit));
}

/** A preparation takes the place of a line, and of what it was made of elsewhere in the mix. */
function prepared(draft: Draft, { key, line: made, left }: Extract<Edit, { kind: "prepared" }>, unit: MassUnit): Draft {
  const rest = (line: Line, typed: string | undefined) => (typed === undefined ? [line] : typed === "" ? [] : [{ ...line, typed, unit, grams: null }]);
  return { ...draft, lines: draft.lines.flatMap((line) => (line.key === key ? swapped(line, [made], unit) : rest(line, left[line.key]))) };
}

function withLines(draft: Draft, keys: string[], change: (line: Line) => Line): Draft {
  return { ...draft, lines: draft.lines.map((line) => (keys.includes(line.key) ? change(line) : line)) };
}

/** Move a line past its neighbour of the same stage; at the end of a stage it stays. */
function shifted(draft: Draft, key: string, by: 1 | -1): Draft {
  const from = draft.lines.findIndex((line) => line.key === key);
  const moving = draft.lines[from];
  if (!moving) return draft;
  let to = from + by;
  while (draft.lines[to] && (draft.lines[to]?.stage ?? null) !== (moving.stage ?? null)) to += by;
  const neighbour = draft.lines[to];
  if (!neighbour) return draft;
  const lines = [...draft.lines];
  lines[from] = neighbour;
  lines[to] = moving;
  return { ...draft, lines };
}
