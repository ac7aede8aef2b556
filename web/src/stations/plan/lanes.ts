import type { Schemas } from "../../shared/api/client";
import type { Answer } from "./clock";

export type Step = Schemas["StepPlanned"];
type Setup = Schemas["SetupPlanned"];

/** A mark on a lane: an attended piece, a step in its place, a wash, or a machine being made ready. */
export type Mark = {
  key: string;
  lane: string;
  row: number;
  start: number;
  end: number;
  kind: "work" | "step" | "wash" | "ready";
  step: string;
  product: string;
};

export type Lane = { key: string; name: string; kind: "people" | "machine" | "piece" | "room"; rows: number };

/** How full a place is: minutes and units, each from there on. */
export type Level = { minute: number; units: number };

export type Board = { lanes: Lane[]; marks: Mark[]; levels: Map<string, Level[]>; letters: Map<string, string> };

const PIECES: Record<string, string> = { burner: "Stove", "ice-bath": "Ice bath", bucket: "Bucket" };
const ROOMS: Record<string, string> = { blast: "Blast chiller", fridge: "Fridge", freezer: "Freezer" };

/** Everything that is drawn of a plan, lane by lane, without saying where. */
export function boardOf(answer: Answer): Board {
  const marks: Mark[] = [];
  const levels = new Map<string, Level[]>();
  const product = new Map(answer.steps.map((step) => [step.id, step.product]));
  for (const step of answer.steps) {
    for (const [at, piece] of step.people.entries()) marks.push(markOf(`${step.id} ${at}`, `person ${piece.who}`, piece, "work", step.id, step.product));
    if (step.machine) marks.push(markOf(step.id, `machine ${step.machine}`, step, "step", step.id, step.product));
    for (const place of Object.keys(step.uses)) {
      if (place in PIECES) marks.push(markOf(`${step.id} ${place}`, place, step, "step", step.id, step.product));
    }
  }
  for (const setup of answer.setups) marks.push(...setupMarks(setup, product.get(setup.step) ?? ""));
  for (const place of Object.keys(ROOMS)) {
    const level = levelOf(place, [...answer.steps, ...answer.setups]);
    if (level.length > 1) levels.set(place, level);
  }
  const lanes: Lane[] = [
    ...Object.keys(answer.people).map((who) => lane(`person ${who}`, who, "people")),
    ...Object.entries(PIECES).map(([key, name]) => lane(key, name, "piece")),
    ...answer.machines.map((name) => lane(`machine ${name}`, name, "machine")),
    ...Object.entries(ROOMS).map(([key, name]) => lane(key, name, "room")),
  ];
  const used = new Set([...marks.map((mark) => mark.lane), ...levels.keys()]);
  for (const one of lanes) one.rows = stack(marks.filter((mark) => mark.lane === one.key));
  return { lanes: lanes.filter((one) => used.has(one.key) || one.kind === "people"), marks, levels, letters: lettersOf(answer.products) };
}

function markOf(key: string, laneKey: string, span: { start: number; end: number }, kind: Mark["kind"], step: string, product: string): Mark {
  return { key, lane: laneKey, row: 0, start: span.start, end: span.end, kind, step, product };
}

function setupMarks(setup: Setup, product: string): Mark[] {
  const own = markOf(`${setup.kind} ${setup.step}`, `machine ${setup.machine}`, setup, setup.kind === "wash" ? "wash" : "ready", setup.step, product);
  const work = setup.people.map((piece, at) => markOf(`${setup.kind} ${setup.step} ${at}`, `person ${piece.who}`, piece, "work", setup.step, product));
  return [own, ...work];
}

function lane(key: string, name: string, kind: Lane["kind"]): Lane {
  return { key, name, kind, rows: 1 };
}

/** Let marks that overlap stand under one another; returns how many rows that takes. */
function stack(marks: Mark[]): number {
  const free: number[] = [];
  for (const mark of [...marks].sort((one, other) => one.start - other.start || one.end - other.end)) {
    const row = free.findIndex((end) => end <= mark.start);
    mark.row = row < 0 ? free.length : row;
    free[mark.row] = Math.max(mark.end, mark.start + 1);
  }
  return Math.max(free.length, 1);
}

/** How full a place is over the time. */
function levelOf(place: string, users: (Step | Setup)[]): Level[] {
  const changes = new Map<number, number>();
  for (const user of users) {
    const units = user.uses[place];
    if (!units) continue;
    changes.set(Math.max(user.start, 0), (changes.get(Math.max(user.start, 0)) ?? 0) + units);
    changes.set(user.end, (changes.get(user.end) ?? 0) - units);
  }
  let units = 0;
  return [...changes].sort(([one], [other]) => one - other).map(([minute, by]) => ({ minute, units: (units += by) }));
}

/** A letter for each product, its own where it can be. */
function lettersOf(products: Record<string, string>): Map<string, string> {
  const taken = new Set<string>();
  return new Map(
    Object.entries(products).map(([key, name]) => {
      const letters = [...name.toUpperCase()].filter((letter) => /\p{L}/u.test(letter));
      const found = letters.find((letter) => !taken.has(letter)) ?? String(taken.size + 1);
      taken.add(found);
      return [key, found];
    }),
  );
}

/** Minutes to pixels: what is closed and empty takes little room, and is hatched. */
export type Scale = { x: (minute: number) => number; minute: (x: number) => number; closed: [number, number][]; from: number; to: number };

const SHORTEST_CLOSED_MIN = 180;
const CLOSED_SHARE = 0.12;

export function scaleOf(answer: Answer, left: number, right: number): Scale {
  const times = [...answer.steps, ...answer.setups].flatMap((one) => [Math.max(one.start, 0), one.end]);
  const work = answer.tasks.map((task) => [task.start, task.end] as const);
  const [from, to] = [Math.max(Math.min(...times) - 30, 0), Math.max(...times) + 30];
  const closed = gaps(work, from, to);
  const parts = split(from, to, closed);
  const weight = (part: { start: number; end: number; closed: boolean }) => (part.end - part.start) * (part.closed ? CLOSED_SHARE : 1);
  const total = parts.reduce((sum, part) => sum + weight(part), 0);
  let at = left;
  const placed = parts.map((part) => {
    const begins = at;
    at += (weight(part) / total) * (right - left);
    return { ...part, x: begins, width: at - begins };
  });
  const find = <T,>(inside: (part: (typeof placed)[number]) => boolean, otherwise: T, found: (part: (typeof placed)[number]) => T) => {
    const part = placed.find(inside);
    return part ? found(part) : otherwise;
  };
  return {
    x: (minute) => {
      if (minute <= from) return left;
      return find((part) => minute <= part.end, right, (part) => part.x + ((minute - part.start) / (part.end - part.start)) * part.width);
    },
    minute: (x) => {
      if (x <= left) return from;
      return find((part) => x <= part.x + part.width, to, (part) => part.start + ((x - part.x) / part.width) * (part.end - part.start));
    },
    closed,
    from,
    to,
  };
}

/** Long whiles in which nobody does anything. */
function gaps(work: readonly (readonly [number, number])[], from: number, to: number): [number, number][] {
  const found: [number, number][] = [];
  let last = from;
  for (const [start, end] of [...work].sort(([one], [other]) => one - other)) {
    if (start - last > SHORTEST_CLOSED_MIN) found.push([last + 15, start - 15]);
    last = Math.max(last, end);
  }
  if (to - last > SHORTEST_CLOSED_MIN) found.push([last + 15, to - 15]);
  return found;
}

function split(from: number, to: number, closed: [number, number][]) {
  const parts: { start: number; end: number; closed: boolean }[] = [];
  let at = from;
  for (const [start, end] of closed) {
    if (start > at) parts.push({ start: at, end: start, closed: false });
    parts.push({ start, end, closed: true });
    at = end;
  }
  if (to > at) parts.push({ start: at, end: to, closed: false });
  return parts;
}
