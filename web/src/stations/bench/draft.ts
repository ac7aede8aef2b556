import type { Schemas } from "../../api/client";

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
  lines: Line[];
};

/** Less of one line, down to what is left of it, and other goods up to so many grams, in a line that is there or a new one. */
export type Exchange = { key: string; left: number; coming: string; grams: number; into: string; stage: string | null };

/** A line as proposed: of one that is there, or a new one where there is no key. */
export type AcceptedLine = { key: string | null; ingredient: string; grams: number; stage: string | null };

export type DraftState = {
  present: Draft;
  past: Draft[];
  future: Draft[];
  /** What the last edit touched: typing on in the same place is one step of undo. */
  touched: string | null;
};

export type Edit =
  | { kind: "name"; name: string }
  | { kind: "style"; style: string | null }
  | { kind: "overrun"; overrun: string }
  | { kind: "type"; key: string; typed: string; read: number | null }
  | { kind: "restrictions"; restrictions: string[] }
  | { kind: "add"; line: Line }
  | { kind: "aim"; of: string; band: number[] | null }
  | { kind: "restore"; revision: Schemas["RevisionDetail"] }
  | { kind: "accept"; lines: AcceptedLine[] }
  | { kind: "pin"; key: string }
  | { kind: "exchange"; exchanges: Exchange[] }
  | { kind: "swap"; key: string; lines: { ingredient: string; typed: string }[] }
  | { kind: "remove"; key: string }
  | { kind: "shift"; key: string; by: 1 | -1 }
  | { kind: "stage"; key: string; stage: string | null }
  | { kind: "undo" }
  | { kind: "redo" }
  | { kind: "load"; draft: Draft };

const MOST_STEPS = 200;

export function newKey(): string {
  return Math.random().toString(36).slice(2);
}

export function draftOf(mix: Schemas["MixOut"]): Draft {
  return {
    name: mix.name,
    style: mix.style ?? null,
    overrun: mix.overrun_pct === null || mix.overrun_pct === undefined ? "" : String(mix.overrun_pct),
    overrunRead: mix.overrun_pct ?? null,
    restrictions: mix.restrictions ?? [],
    aims: mix.aims ?? {},
    lines: mix.lines.map((line) => ({ ...line, key: newKey() })),
  };
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

/** The draft as the server takes it. */
export function bodyOf(draft: Draft): Omit<Schemas["DraftToAnalyse"], "freezer_c"> {
  return {
    style: draft.style,
    overrun_pct: draft.overrunRead,
    restrictions: draft.restrictions ?? [], // a draft that an older page left in this browser has none
    aims: draft.aims ?? {},
    lines: draft.lines.map(({ key: _, ...line }) => ({ ...line, pinned: line.pinned ?? false })),
  };
}

/** Lines by stage, in the order of the stages; within a stage in their own order. */
export function byStage(lines: Line[], stages: string[]): { stage: string | null; lines: Line[] }[] {
  return [null, ...stages]
    .map((stage) => ({ stage, lines: lines.filter((line) => (line.stage ?? null) === stage) }))
    .filter((group) => group.lines.length > 0);
}

export function edited(state: DraftState, edit: Edit): DraftState {
  switch (edit.kind) {
    case "load":
      return { present: edit.draft, past: [], future: [], touched: null };
    case "undo": {
      const [last, ...rest] = state.past;
      return last ? { present: last, past: rest, future: [state.present, ...state.future], touched: null } : state;
    }
    case "redo": {
      const [next, ...rest] = state.future;
      return next ? { present: next, past: [state.present, ...state.past], future: rest, touched: null } : state;
    }
    default: {
      const present = apply(state.present, edit);
      if (present === state.present) return state;
      const touched = "key" in edit ? `${edit.kind} ${edit.key}` : edit.kind;
      const goesOn = touched === state.touched && ["name", "overrun", "type"].includes(edit.kind);
      const past = goesOn ? state.past : [state.present, ...state.past].slice(0, MOST_STEPS);
      return { present, past, future: [], touched };
    }
  }
}

type Change = Exclude<Edit, { kind: "undo" | "redo" | "load" }>;

function apply(draft: Draft, edit: Change): Draft {
  switch (edit.kind) {
    case "name":
      return { ...draft, name: edit.name };
    case "style":
      return { ...draft, style: edit.style };
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
    case "accept":
      return edit.lines.reduce(accepted, draft);
    case "pin":
      return withLine(draft, edit.key, (line) => ({ ...line, pinned: !line.pinned }));
    case "exchange":
      return edit.exchanges.reduce(exchanged, draft);
    case "swap":
      return { ...draft, lines: draft.lines.flatMap((line) => (line.key === edit.key ? swapped(line, edit.lines) : [line])) };
    case "type":
      return withLine(draft, edit.key, (line) => ({ ...line, typed: edit.typed, grams: edit.read }));
    case "stage":
      return withLine(draft, edit.key, (line) => ({ ...line, stage: edit.stage }));
    case "add":
      return { ...draft, lines: [...draft.lines, edit.line] };
    case "remove":
      return { ...draft, lines: draft.lines.filter((line) => line.key !== edit.key) };
    case "shift":
      return shifted(draft, edit.key, edit.by);
  }
}

function exchanged(draft: Draft, { key, left, coming, grams, into, stage }: Exchange): Draft {
  const less = weighing(draft, key, left);
  if (less.lines.some((line) => line.key === into)) return weighing(less, into, grams);
  const line = { key: into, ingredient: coming, typed: tenths(grams), unit: "g", grams, stage, pinned: false };
  return { ...less, lines: [...less.lines, line] };
}

/** The lines, style, air and aims of a revision; name and restrictions stay. */
function restored(draft: Draft, revision: Schemas["RevisionDetail"]): Draft {
  const { style, overrun_pct: overrun, aims, lines } = revision;
  return {
    ...draft,
    style: style ?? null,
    overrun: overrun === null || overrun === undefined ? "" : String(overrun),
    overrunRead: overrun ?? null,
    aims: aims ?? {},
    lines: lines.map((line) => ({ ...line, key: newKey() })),
  };
}

function accepted(draft: Draft, { key, ingredient, grams, stage }: AcceptedLine): Draft {
  const typed = String(Math.round(grams * 1000) / 1000);
  if (key !== null) return withLine(draft, key, (line) => ({ ...line, ingredient, typed, unit: "g", grams }));
  return { ...draft, lines: [...draft.lines, { key: newKey(), ingredient, typed, unit: "g", grams, stage, pinned: false }] };
}

function weighing(draft: Draft, key: string, grams: number): Draft {
  return withLine(draft, key, (line) => ({ ...line, typed: tenths(grams), unit: "g", grams }));
}

function tenths(grams: number): string {
  return String(Math.round(grams * 10) / 10);
}

/** The lines that take the place of one; the first keeps its place on the page. */
function swapped(line: Line, lines: { ingredient: string; typed: string }[]): Line[] {
  return lines.map((other, index) => ({
    key: index === 0 ? line.key : newKey(),
    ingredient: other.ingredient,
    typed: other.typed,
    unit: "g",
    grams: null,
    stage: line.stage ?? null,
    pinned: false,
  }));
}

function withLine(draft: Draft, key: string, change: (line: Line) => Line): Draft {
  return { ...draft, lines: draft.lines.map((line) => (line.key === key ? change(line) : line)) };
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
