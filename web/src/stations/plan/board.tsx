import { type KeyboardEvent, type PointerEvent, useMemo, useRef, useState } from "react";

import { useSize } from "../../charts/use-size";
import { PlanClock } from "./clock";
import { type Board as BoardData, boardOf, type Lane, type Mark, type Scale, scaleOf, type Step } from "./lanes";
import { amountSaid } from "./services";
import { usePlan } from "./use-plan";

const LABELS = 128;
const RIGHT = 26;
const TOP = 46;
const ROW = 26;
const ROOM_ROW = 36;
const GAP = 9;
const FOOT = 10;
const FLAG = 26;
const STEP_MIN = 5;
const SETTLE_MS = 700;

type Props = { answer: NonNullable<ReturnType<typeof usePlan>["shown"]>; now: number | null };

/** The plan as lanes of people, machines and places, each product a thread through them. */
export function Board({ answer, now }: Props) {
  const [room, size] = useSize<HTMLDivElement>();
  const width = Math.max(size?.width ?? 1000, 720);
  const board = useMemo(() => boardOf(answer), [answer]);
  const scale = useMemo(() => scaleOf(answer, LABELS, width - RIGHT), [answer, width]);
  const clock = useMemo(() => new PlanClock(answer), [answer]);
  const tops = useMemo(() => topsOf(board.lanes), [board]);
  const { chosen, plan } = usePlan();
  const flags = useMemo(() => flagsOf(answer, plan.services, clock, scale, width), [answer, plan.services, clock, scale, width]);
  const height = tops.bottom + FOOT + FLAG * Math.max(0, ...flags.map((flag) => flag.row + 1));
  const product = answer.steps.find((step) => step.id === chosen)?.product ?? null;
  return (
    <div ref={room} className="overflow-x-auto" role="region" aria-label="Board">
      <svg width={width} height={height} className="block select-none" role="group" aria-label="The plan, lane by lane">
        <Hours clock={clock} scale={scale} bottom={tops.bottom} />
        {board.lanes.map((lane) => (
          <LaneBack key={lane.key} lane={lane} top={tops.of(lane.key)} width={width} board={board} scale={scale} capacity={answer.places[lane.key] ?? 0} />
        ))}
        <Threads answer={answer} board={board} scale={scale} tops={tops} product={product} />
        <Ghosts scale={scale} tops={tops} />
        <Marks answer={answer} board={board} scale={scale} tops={tops} clock={clock} product={product} />
        <Flags flags={flags} bottom={tops.bottom} />
        {now !== null && now >= scale.from && now <= scale.to && <NowLine x={scale.x(now)} bottom={tops.bottom} said={clock.hour(now)} />}
      </svg>
    </div>
  );
}

type Tops = { of: (lane: string) => number; bottom: number };

function heightOf(lane: Lane): number {
  return lane.kind === "room" ? ROOM_ROW : lane.rows * ROW;
}

function topsOf(lanes: Lane[]): Tops {
  const tops = new Map<string, number>();
  let at = TOP;
  for (const lane of lanes) {
    tops.set(lane.key, at);
    at += heightOf(lane) + GAP;
  }
  return { of: (lane) => tops.get(lane) ?? at, bottom: at };
}

function Hours({ clock, scale, bottom }: { clock: PlanClock; scale: Scale; bottom: number }) {
  const wide = scale.x(scale.to) - scale.x(scale.from);
  const open = scale.to - scale.from - scale.closed.reduce((sum, [start, end]) => sum + (end - start), 0);
  const apart = [1, 2, 3, 4, 6].find((hours) => (wide / open) * 60 * hours >= 54) ?? 12;
  const ticks = clock.hours(scale.from, scale.to, apart).filter((minute) => !scale.closed.some(([start, end]) => minute > start && minute < end));
  const days = [scale.from, ...clock.hours(scale.from, scale.to, 1).filter((minute) => clock.dayNumber(minute) !== clock.dayNumber(minute - 1))];
  const ends = scale.closed.filter(([, end]) => end < scale.to);
  const shown = apartBy(days.map((minute) => ({ minute: Math.max(...ends.filter(([start, end]) => minute > start && minute < end).map(([, end]) => end), minute), day: minute })).map(({ minute }) => ({ minute, x: scale.x(minute), said: clock.day(minute) })), 60);
  return (
    <g aria-hidden className="text-xs">
      <defs>
        <pattern id="closed" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
          <line x1="0" y1="0" x2="0" y2="6" stroke="var(--line)" strokeWidth="2.5" />
        </pattern>
        <pattern id="cold" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="5" height="5" fill="#d3e6ee" />
          <line x1="0" y1="0" x2="0" y2="5" stroke="#7fa9bb" strokeWidth="1.5" />
        </pattern>
      </defs>
      {scale.closed.map(([start, end]) => (
        <rect key={start} x={scale.x(start)} y={TOP - 14} width={scale.x(end) - scale.x(start)} height={bottom - TOP + 14} fill="url(#closed)" opacity={0.7} />
      ))}
      {shown.map(({ minute, x, said }) => (
        <text key={minute} x={x} y={13} className="fill-ink text-[13px] font-bold">
          {said}
        </text>
      ))}
      {apartBy(ticks.map((minute) => ({ minute, x: scale.x(minute), said: clock.hour(minute) })), 38).map(({ minute, x, said }) => (
        <g key={minute}>
          <line x1={x} x2={x} y1={TOP - 12} y2={bottom} stroke="var(--line)" />
          <text x={x} y={TOP - 17} textAnchor="middle" className="fill-muted text-[12px]">
            {said}
          </text>
        </g>
      ))}
    </g>
  );
}

/** Leave out what would stand on top of what is before it. */
function apartBy<T extends { x: number }>(all: T[], least: number): T[] {
  let last = -Infinity;
  return all.filter(({ x }) => {
    if (x - last < least) return false;
    last = x;
    return true;
  });
}

function LaneBack(props: { lane: Lane; top: number; width: number; board: BoardData; scale: Scale; capacity: number }) {
  const { lane, top, width, board, scale, capacity } = props;
  const height = heightOf(lane);
  const level = board.levels.get(lane.key);
  return (
    <g>
      <text x={0} y={top + Math.min(height, ROW) / 2 + 5} className="fill-ink text-[13px] font-semibold">
        {lane.name.length > 17 ? `${lane.name.slice(0, 16)}…` : lane.name}
        <title>{lane.name}</title>
      </text>
      <line x1={LABELS} x2={width} y1={top + height + GAP / 2} y2={top + height + GAP / 2} stroke="var(--line)" />
      {level && capacity > 0 && (
        <>
          <text x={0} y={top + ROW / 2 + 19} className="fill-muted text-[11px]">
            at most {peakOf(level) / 10} of {capacity / 10} L
          </text>
          <path d={areaOf(level, scale, top, height)} fill="#d3e6ee" stroke="#7fa9bb" />
        </>
      )}
    </g>
  );
}

function peakOf(level: { units: number }[]): number {
  return Math.max(...level.map((one) => one.units));
}

/** The fullest that it gets fills the lane; how much of the place that is stands beside it. */
function areaOf(level: { minute: number; units: number }[], scale: Scale, top: number, height: number): string {
  const peak = peakOf(level);
  const y = (units: number) => top + height - (units / peak) * (height - 4);
  const parts = level.map(({ minute, units }, at) => `H${scale.x(minute)}${at === level.length - 1 ? `V${top + height}` : `V${y(units)}`}`);
  return `M${scale.x(level[0]!.minute)} ${top + height}${parts.join("")}Z`;
}

/** From one place of a product to the next: where it is taken from a person to the stove, the bath, the machine. */
function Threads(props: { answer: Props["answer"]; board: BoardData; scale: Scale; tops: Tops; product: string | null }) {
  const { answer, board, scale, tops, product } = props;
  const lines = Object.keys(answer.products).map((key) => ({ key, path: threadOf(key, board, scale, tops) }));
  return (
    <g aria-hidden fill="none">
      {lines.map(({ key, path }) => (
        <path key={key} d={path} stroke={key === product ? "var(--ink)" : "var(--muted)"} strokeWidth={key === product ? 2.5 : 1.2} opacity={key === product ? 1 : product ? 0.25 : 0.55} />
      ))}
    </g>
  );
}

function threadOf(product: string, board: BoardData, scale: Scale, tops: Tops): string {
  const steps = board.marks.filter((mark) => mark.product === product && mark.kind !== "ready" && mark.kind !== "wash" && !mark.key.startsWith("wash") && !mark.key.startsWith("ready"));
  const ordered = [...steps].sort((one, other) => one.start - other.start || (one.kind === "work" ? -1 : 1));
  return ordered
    .slice(1)
    .map((mark, at) => {
      const before = ordered[at]!;
      if (before.lane === mark.lane) return "";
      const [x1, y1] = [scale.x(before.step === mark.step ? Math.min(before.end, mark.end) : before.end), middle(before, tops)];
      const [x2, y2] = [scale.x(Math.max(mark.start, before.step === mark.step ? mark.start : 0)), middle(mark, tops)];
      const bend = Math.min(Math.max(Math.abs(x2 - x1) / 2, 6), 26);
      return `M${x1} ${y1}C${x1 + bend} ${y1} ${x2 - bend} ${y2} ${x2} ${y2}`;
    })
    .join("");
}

function middle(mark: Mark, tops: Tops): number {
  return tops.of(mark.lane) + mark.row * ROW + ROW / 2;
}

/** Where the steps stood before, of a plan that was just made anew. */
function Ghosts({ scale, tops }: { scale: Scale; tops: Tops }) {
  const { plan, shown } = usePlan();
  const { previous } = plan;
  if (!previous || !shown || previous.origin !== shown.origin) return null;
  const now = new Map(shown.steps.map((step) => [step.id, step.start]));
  const moved = new Set(previous.steps.filter((step) => now.has(step.id) && now.get(step.id) !== step.start).map((step) => step.id));
  const ghosts = boardOf(previous).marks.filter((mark) => moved.has(mark.step) && mark.kind !== "ready" && mark.start >= scale.from && mark.end <= scale.to);
  return (
    <g aria-hidden>
      {ghosts.map((mark) => (
        <rect key={mark.key} x={scale.x(mark.start)} y={tops.of(mark.lane) + mark.row * ROW + 3} width={Math.max(scale.x(mark.end) - scale.x(mark.start), 3)} height={ROW - 6} rx={4} fill="none" stroke="var(--muted)" strokeDasharray="3 3" />
      ))}
    </g>
  );
}

type MarksProps = { answer: Props["answer"]; board: BoardData; scale: Scale; tops: Tops; clock: PlanClock; product: string | null };

function Marks(props: MarksProps) {
  const { answer, board, scale, tops, clock, product } = props;
  const { chosen, choose } = usePlan();
  const moving = useMoving(scale, clock);
  const steps = useMemo(() => new Map(answer.steps.map((step) => [step.id, step])), [answer]);
  const order = useMemo(() => [...board.marks].sort((one, other) => one.start - other.start), [board]);
  const focusable = board.marks.find((mark) => mark.step === chosen)?.key ?? order[0]?.key;

  function walk(event: KeyboardEvent, mark: Mark) {
    const { key } = event;
    if (!["ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown"].includes(key)) return;
    event.preventDefault();
    const forward = key === "ArrowRight" || key === "ArrowDown";
    if (event.altKey) {
      const step = steps.get(mark.step);
      if (step && mark.kind !== "wash" && mark.kind !== "ready") moving.nudge(step, (forward ? 1 : -1) * STEP_MIN * (event.shiftKey ? 6 : 1));
      return;
    }
    const along = key === "ArrowLeft" || key === "ArrowRight" ? order.filter((one) => one.product === mark.product) : order.filter((one) => one.lane === mark.lane);
    const next = along[along.findIndex((one) => one.key === mark.key) + (forward ? 1 : -1)];
    if (!next) return;
    choose(next.step);
    window.requestAnimationFrame(() => document.getElementById(idOf(next.key))?.focus());
  }

  return (
    <g>
      {board.marks.map((mark) => {
        const step = steps.get(mark.step);
        const by = moving.step === mark.step ? moving.by : 0;
        return (
          <MarkShape
            key={mark.key}
            mark={mark}
            step={step}
            x={scale.x(mark.start + by)}
            width={scale.x(mark.end + by) - scale.x(mark.start + by)}
            y={tops.of(mark.lane) + mark.row * ROW + 2}
            letter={board.letters.get(mark.product) ?? ""}
            name={nameOf(mark, step, answer, clock)}
            look={mark.product === product ? "chosen" : product ? "behind" : "plain"}
            focusable={mark.key === focusable}
            onChoose={() => choose(mark.step)}
            onWalk={(event) => walk(event, mark)}
            onDrag={step && mark.kind !== "wash" && mark.kind !== "ready" ? (event) => moving.begin(event, step) : undefined}
          />
        );
      })}
    </g>
  );
}

function idOf(key: string): string {
  return `mark-${key.replace(/\W/g, "-")}`;
}

function nameOf(mark: Mark, step: Step | undefined, answer: Props["answer"], clock: PlanClock): string {
  const when = `${clock.when(mark.start)} to ${clock.hour(mark.end)}`;
  const task = answer.tasks.find((one) => one.start === mark.start && one.end === mark.end && (one.step === mark.step || one.id.endsWith(mark.step)));
  if (mark.kind === "ready") return `${mark.lane.replace(/^machine /, "")} is made ready, ${when}`;
  if (mark.kind === "wash") return `Wash ${mark.lane.replace(/^machine /, "")}, ${when}`;
  const what = mark.kind === "work" && task ? task.title : (step?.title ?? mark.step);
  return `${what}, ${when}${mark.kind === "work" ? `, ${mark.lane.replace(/^person /, "")}` : ""}`;
}

type ShapeProps = {
  mark: Mark;
  step: Step | undefined;
  x: number;
  y: number;
  width: number;
  letter: string;
  name: string;
  look: "chosen" | "behind" | "plain";
  focusable: boolean;
  onChoose: () => void;
  onWalk: (event: KeyboardEvent) => void;
  onDrag: ((event: PointerEvent<SVGGElement>) => void) | undefined;
};

function MarkShape({ mark, step, x, y, width, letter, name, look, focusable, onChoose, onWalk, onDrag }: ShapeProps) {
  const wide = Math.max(width, 4);
  const solid = mark.kind === "work";
  const fill = solid ? (look === "chosen" ? "var(--ink)" : "var(--muted)") : mark.kind === "ready" ? "url(#cold)" : mark.kind === "wash" ? "var(--steel)" : "var(--panel)";
  const tall = mark.kind === "ready" ? 10 : ROW - 4;
  return (
    <g
      id={idOf(mark.key)}
      role="button"
      aria-label={name}
      aria-pressed={look === "chosen"}
      tabIndex={focusable ? 0 : -1}
      className="cursor-pointer outline-offset-1"
      opacity={look === "behind" ? 0.55 : 1}
      onClick={onChoose}
      onKeyDown={(event) => {
        if (event.key === "Enter" || event.key === " ") {
          event.preventDefault();
          onChoose();
        } else onWalk(event);
      }}
      onPointerDown={onDrag}
    >
      <title>{name}</title>
      <rect x={x - Math.max(0, (14 - wide) / 2)} y={y} width={Math.max(wide, 14)} height={ROW - 4} fill="transparent" />
      <rect
        x={x}
        y={y + (ROW - 4 - tall) / 2}
        width={wide}
        height={tall}
        rx={4}
        fill={fill}
        stroke={solid ? "var(--panel)" : look === "chosen" ? "var(--ink)" : "var(--muted)"}
        strokeWidth={step?.slip === 0 && mark.kind === "step" ? 2.5 : 1.2}
      />
      {wide >= 14 && mark.kind !== "ready" && (
        <text x={x + 5} y={y + ROW / 2 + 2.5} className={`text-[12px] font-semibold ${solid ? "fill-panel" : "fill-ink"}`}>
          {mark.kind === "wash" ? (wide > 40 ? "wash" : "") : letter}
        </text>
      )}
      {step?.pinned && mark.kind !== "ready" && <circle cx={x + wide - 4} cy={y + 4} r={3} className="fill-hot" />}
    </g>
  );
}

/** Moving a step by dragging it or with Alt and arrows; where it is left it is pinned, and the rest is planned anew. */
function useMoving(scale: Scale, clock: PlanClock) {
  const { change, choose } = usePlan();
  const [moving, setMoving] = useState<{ step: string; by: number } | null>(null);
  const timer = useRef(0);

  function pin(step: Step, by: number) {
    setMoving(null);
    if (by !== 0) void change({ pins: { [step.id]: clock.iso(step.start + by) } }, true).catch(() => undefined);
  }

  return {
    step: moving?.step ?? null,
    by: moving?.by ?? 0,
    nudge(step: Step, minutes: number) {
      const by = (moving?.step === step.id ? moving.by : 0) + minutes;
      choose(step.id);
      setMoving({ step: step.id, by });
      window.clearTimeout(timer.current);
      timer.current = window.setTimeout(() => pin(step, by), SETTLE_MS);
    },
    begin(event: PointerEvent<SVGGElement>, step: Step) {
      if (event.button !== 0) return;
      const mark = event.currentTarget;
      const svg = mark.ownerSVGElement!;
      const left = svg.getBoundingClientRect().left;
      const from = scale.minute(event.clientX - left);
      let by = 0;
      choose(step.id);
      mark.setPointerCapture(event.pointerId);
      const follow = (moved: globalThis.PointerEvent) => {
        by = Math.round((scale.minute(moved.clientX - left) - from) / STEP_MIN) * STEP_MIN;
        setMoving({ step: step.id, by });
      };
      const end = () => {
        mark.removeEventListener("pointermove", follow);
        pin(step, by);
      };
      mark.addEventListener("pointermove", follow);
      mark.addEventListener("pointerup", end, { once: true });
      mark.addEventListener("pointercancel", () => setMoving(null), { once: true });
    },
  };
}

type Flag = { due: number; said: string; x: number; left: number; wide: number; row: number };

/** What is served when, as flags that do not stand on one another. */
function flagsOf(answer: Props["answer"], services: ReturnType<typeof usePlan>["plan"]["services"], clock: PlanClock, scale: Scale, width: number): Flag[] {
  const byHour = new Map<number, string[]>();
  for (const { due, product } of answer.services) {
    const known = services.find((one) => one.id === product);
    const name = answer.products[product] ?? "";
    byHour.set(due, [...(byHour.get(due) ?? []), known ? `${amountSaid(known)} ${name}` : name]);
  }
  const ends: number[] = [];
  return [...byHour]
    .sort(([one], [other]) => one - other)
    .map(([due, names]) => {
      const said = `${clock.hour(due)} ${names.length > 2 ? `${names.length} to serve` : names.join(", ")}`;
      const wide = Math.min(said.length * 6.4 + 16, width - LABELS);
      const x = scale.x(due);
      const left = Math.min(Math.max(x - 4, LABELS), width - wide);
      const free = ends.findIndex((end) => end <= left);
      const row = free < 0 ? ends.length : free;
      ends[row] = left + wide + 4;
      return { due, said, x, left, wide, row };
    });
}

function Flags({ flags, bottom }: { flags: Flag[]; bottom: number }) {
  return (
    <g aria-hidden>
      {flags.map(({ due, x, row }) => (
        <line key={due} x1={x} x2={x} y1={TOP - 10} y2={bottom + 6 + row * FLAG} stroke="var(--ink)" strokeWidth={1.6} />
      ))}
      {flags.map(({ due, said, left, wide, row }) => (
        <g key={due}>
          <rect x={left} y={bottom + 6 + row * FLAG} width={wide} height={FLAG - 4} rx={4} fill="var(--ink)" />
          <text x={left + 8} y={bottom + 21 + row * FLAG} className="fill-panel text-[12px] font-semibold">
            {said}
          </text>
        </g>
      ))}
    </g>
  );
}

function NowLine({ x, bottom, said }: { x: number; bottom: number; said: string }) {
  return (
    <g aria-hidden>
      <line x1={x} x2={x} y1={TOP - 10} y2={bottom + 6} stroke="var(--hot)" strokeWidth={2} />
      <text x={x} y={bottom + 20} textAnchor="middle" className="fill-hot text-[12px] font-bold">
        now {said}
      </text>
    </g>
  );
}
