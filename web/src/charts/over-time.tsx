import { type ScaleLinear, scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import { type KeyboardEvent, memo, type PointerEvent } from "react";

import type { Schemas } from "../shared/api/client";
import { type Units, useUnits } from "../shared/format/units";
import { type Size, useSize } from "./use-size";

const LEFT = 40;
const RIGHT = 14;
const TOP = 8;
const BOTTOM = 38;
const COLDEST = -28;
/** Above this the scale is pressed together: what happens to a tub happens below it. */
const KNEE = 2;
const KNEE_HEIGHT = 26;
const WARMEST = 30;
const STEP_C = 0.5;
const NAMED_WIDTH = 96;
const COLD_WIDTH = 0.6;
const LONGEST_COLD_MIN = 1440;

type Found = Schemas["TubOut"];
type Scales = { x: ScaleLinear<number, number>; y: ScaleLinear<number, number>; right: number; height: number };

type Props = {
  found: Found;
  /** How long it stays in the cold, in minutes. */
  onCold: (minutes: number) => void;
  /** What is around the tub after that, °C. */
  onOut: (celsius: number) => void;
  out: number;
  at: number;
  onAt: (minute: number) => void;
};

/** The temperature of core and rim of a tub by time: in the cold by the hour, out of it by the minute. */
export const OverTime = memo(function OverTime(props: Props) {
  const [room, size] = useSize<HTMLDivElement>();
  return (
    <div ref={room} className="relative h-full min-h-52">
      {size && size.height > 120 && <Drawing {...props} size={size} />}
    </div>
  );
});

/** The cold takes hours and what comes after minutes: where it comes out moves with the root of its time in there. */
function scalesOf({ stays }: Found, size: Size): Scales {
  const right = size.width - RIGHT;
  const [cold = 0, ...ends] = stays.map((stay) => stay.to_min);
  const middle = LEFT + COLD_WIDTH * (right - LEFT) * Math.sqrt(Math.min(cold / LONGEST_COLD_MIN, 1));
  const last = ends.length > 1 ? [middle + 0.6 * (right - middle), right] : [right];
  const x = scaleLinear()
    .domain([0, cold, ...ends])
    .range([LEFT, middle, ...last])
    .clamp(true);
  const y = scaleLinear()
    .domain([WARMEST, KNEE, COLDEST])
    .range([TOP, TOP + KNEE_HEIGHT, size.height - BOTTOM])
    .clamp(true);
  return { x, y, right, height: size.height };
}

function Drawing({ found, onCold, onOut, out, at, onAt, size }: Props & { size: Size }) {
  const scales = scalesOf(found, size);
  const { scoops_coldest_c: coldest, scoops_warmest_c: warmest } = found;
  return (
    <svg width={size.width} height={size.height} className="absolute inset-0 block touch-none select-none">
      <g role="img" aria-label={found.stays.map((stay) => stay.said).join(" ")}>
        {coldest !== null && warmest !== null && <rect x={LEFT} width={scales.right - LEFT} y={scales.y(warmest)} height={scales.y(coldest) - scales.y(warmest)} fill="var(--band)" opacity="0.55" />}
        <Axes found={found} scales={scales} />
        <Curve found={found} scales={scales} of="rim_c" />
        <Curve found={found} scales={scales} of="core_c" />
        <Names found={found} scales={scales} />
      </g>
      <TimeHandle found={found} scales={scales} at={at} move={onAt} />
      <StayHandle found={found} scales={scales} move={onCold} />
      <PlaceHandle scales={scales} celsius={out} move={onOut} name={found.stays[1]?.name ?? ""} />
    </svg>
  );
}

function Curve({ found, scales: { x, y }, of }: { found: Found; scales: Scales; of: "core_c" | "rim_c" }) {
  const draw = line<number>()
    .x((index) => x(found.minutes[index] ?? 0))
    .y((index) => y(found[of][index] ?? 0));
  const core = of === "core_c";
  return <path d={draw(found.minutes.map((_, index) => index)) ?? ""} fill="none" stroke={core ? "var(--ink)" : "var(--egg)"} strokeWidth={core ? 2 : 1.8} strokeDasharray={core ? undefined : "6 3"} />;
}

/** The names of the two curves, where they are furthest apart in the cold. */
function Names({ found, scales: { x, y } }: { found: Found; scales: Scales }) {
  const end = found.stays[0]?.to_min ?? 0;
  const apart = found.minutes.map((minute, index) => (minute <= end ? Math.abs((found.core_c[index] ?? 0) - (found.rim_c[index] ?? 0)) : -1));
  const widest = apart.indexOf(Math.max(...apart));
  const left = Math.max(LEFT + 8, x(found.minutes[widest] ?? 0));
  return (
    <g fontSize="12" className="halo">
      <text x={left} y={y(found.core_c[widest] ?? 0) - 7} fontWeight="700" fill="var(--ink)">
        core
      </text>
      <text x={left} y={y(found.rim_c[widest] ?? 0) + 16} fontWeight="700" fill="var(--egg)">
        rim
      </text>
    </g>
  );
}

function Axes({ found, scales: { x, y, right, height } }: { found: Found; scales: Scales }) {
  const units = useUnits();
  const floor = height - BOTTOM;
  return (
    <g fontSize="12" fill="var(--muted)">
      <line x1={LEFT} x2={LEFT} y1={TOP} y2={floor} stroke="var(--ink)" strokeWidth="1.5" />
      <line x1={LEFT} x2={right} y1={floor} y2={floor} stroke="var(--line)" />
      {[20, ...units.ticks(1, COLDEST)].map((tick) => (
        <g key={tick}>
          <line x1={LEFT - 5} x2={LEFT} y1={y(tick)} y2={y(tick)} stroke="var(--ink)" />
          <text x={LEFT - 8} y={y(tick) + 4} textAnchor="end">
            {units.degrees(tick, 0)}
          </text>
        </g>
      ))}
      {found.stays.map((stay, index) => (
        <Stay key={stay.from_min} stay={stay} scales={{ x, y, right, height }} hours={stay.to_min - stay.from_min > 180} last={index === found.stays.length - 1} />
      ))}
    </g>
  );
}

function Stay({ stay, scales: { x, height }, hours, last }: { stay: Schemas["StayOut"]; scales: Scales; hours: boolean; last: boolean }) {
  const span = stay.to_min - stay.from_min;
  const unit = hours ? 60 : 1;
  const steps = [5, 10, 15, 20, 30, 60].find((one) => span / unit / (hours ? one / 5 : one) <= 4) ?? 120;
  const step = hours ? Math.max(1, Math.round(steps / 5)) : steps;
  const ticks = Array.from({ length: Math.floor(span / unit / step) + 1 }, (_, at) => at * step).filter((tick) => tick * unit < span * 0.97 || last);
  return (
    <>
      {ticks.map((tick) => (
        <text key={tick} x={x(stay.from_min + tick * unit)} y={height - 22} textAnchor="middle">
          {tick}
        </text>
      ))}
      <text x={x(stay.from_min + span / 2)} y={height - 6} textAnchor="middle">
        {hours ? "h" : "min"}
        {x(stay.to_min) - x(stay.from_min) > NAMED_WIDTH && ` ${stay.name}`}
      </text>
    </>
  );
}

type Dragged = {
  label: string;
  text: string;
  now: number;
  least: number;
  most: number;
  keys: Record<string, number>;
  move: (value: number) => void;
  read: (event: PointerEvent<SVGGElement>) => number;
};

/** What every handle of the drawing has: it is dragged, and moved by keys. */
function handleProps({ label, text, now, least, most, keys, move, read }: Dragged) {
  const moved = (value: number) => move(Math.min(most, Math.max(least, value)));
  return {
    role: "slider",
    tabIndex: 0,
    "aria-label": label,
    "aria-valuemin": least,
    "aria-valuemax": most,
    "aria-valuenow": Math.round(10 * now) / 10,
    "aria-valuetext": text,
    onKeyDown: (event: KeyboardEvent) => {
      const step = keys[event.key];
      if (step === undefined) return;
      event.preventDefault();
      moved(now + step);
    },
    onPointerDown: (event: PointerEvent<SVGGElement>) => event.currentTarget.setPointerCapture(event.pointerId),
    onPointerMove: (event: PointerEvent<SVGGElement>) => {
      if (event.buttons !== 0) moved(read(event));
    },
  };
}

function within(event: PointerEvent<SVGGElement>) {
  const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
  return { left: event.clientX - (box?.left ?? 0), top: event.clientY - (box?.top ?? 0) };
}

/** A moment: what core and rim are then. */
function TimeHandle({ found, scales, at, move }: { found: Found; scales: Scales; at: number; move: (minute: number) => void }) {
  const units = useUnits();
  const last = found.minutes.at(-1) ?? 0;
  const minute = Math.min(at, last);
  const said = momentSaid(found, minute, units);
  const left = scales.x(minute);
  const keys = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: 30, PageDown: -30 };
  return (
    <g
      {...handleProps({ label: "Moment", text: said, now: minute, least: 0, most: last, keys, move, read: (event) => Math.round(scales.x.invert(within(event).left)) })}
      className="cursor-ew-resize"
    >
      <rect x={left - 12} width="24" y={TOP} height={scales.height - BOTTOM - TOP} fill="transparent" />
      <line x1={left} x2={left} y1={TOP} y2={scales.height - BOTTOM} stroke="var(--muted)" strokeDasharray="2 3" />
      <circle cx={left} cy={scales.height - BOTTOM} r="6" fill="var(--muted)" />
    </g>
  );
}

/** What core and rim are at a minute, in words. */
export function momentSaid(found: Found, minute: number, units: Units): string {
  const index = found.minutes.findIndex((one) => one >= minute);
  const here = index < 0 ? found.minutes.length - 1 : index;
  const stay = found.stays.find((one) => minute <= one.to_min) ?? found.stays.at(-1);
  const since = minute - (stay?.from_min ?? 0);
  const time = since >= 180 ? `${units.number(since / 60, 1)} h` : `${units.number(since)} min`;
  return `After ${time} ${stay?.name ?? ""}: core ${units.temperature(found.core_c[here] ?? 0)}, ${found.core_word[here] ?? ""}; rim ${units.temperature(found.rim_c[here] ?? 0)}, ${found.rim_word[here] ?? ""}.`;
}

/** When it comes out of the cold. */
function StayHandle({ found, scales, move }: { found: Found; scales: Scales; move: (minutes: number) => void }) {
  const units = useUnits();
  const minutes = found.stays[0]?.to_min ?? 0;
  const left = scales.x(minutes);
  const width = COLD_WIDTH * (scales.right - LEFT);
  const keys = { ArrowRight: 30, ArrowUp: 30, ArrowLeft: -30, ArrowDown: -30, PageUp: 240, PageDown: -240 };
  return (
    <g
      {...handleProps({
        label: "Time in the cold",
        text: `${units.number(minutes / 60, 1)} h`,
        now: minutes,
        least: 15,
        most: LONGEST_COLD_MIN,
        keys,
        move: (value) => move(15 * Math.round(value / 15)),
        read: (event) => LONGEST_COLD_MIN * (Math.max(0, within(event).left - LEFT) / width) ** 2,
      })}
      className="cursor-ew-resize"
    >
      <line x1={left} x2={left} y1={TOP} y2={scales.height - BOTTOM} stroke="var(--ink)" strokeWidth="1.5" />
      <rect x={left - 11} y={TOP + 4} width="22" height="17" rx="4" fill="var(--ink)" />
      <path d={`M${left - 3} ${TOP + 9}v7M${left + 3} ${TOP + 9}v7`} stroke="var(--panel)" strokeWidth="1.5" />
      <rect x={left - 12} width="24" y={TOP} height={scales.height - BOTTOM - TOP} fill="transparent" />
    </g>
  );
}

/** How warm it is where the tub stands afterwards. */
function PlaceHandle({ scales, celsius, move, name }: { scales: Scales; celsius: number; move: (celsius: number) => void; name: string }) {
  const units = useUnits();
  const { x, y, right } = scales;
  const at = y(celsius);
  const from = x.range()[1] ?? LEFT;
  const keys = { ArrowUp: STEP_C, ArrowRight: STEP_C, ArrowDown: -STEP_C, ArrowLeft: -STEP_C, PageUp: 4, PageDown: -4 };
  return (
    <g
      {...handleProps({
        label: "Temperature around the tub",
        text: `${units.temperature(celsius)}, ${name}`,
        now: celsius,
        least: COLDEST,
        most: WARMEST,
        keys,
        move: (value) => move(STEP_C * Math.round(value / STEP_C)),
        read: (event) => y.invert(within(event).top),
      })}
      className="cursor-ns-resize"
    >
      <line x1={from} x2={right} y1={at} y2={at} stroke="var(--hot)" strokeWidth="1.5" strokeDasharray="3 3" />
      <rect x={right - 60} y={at - 12} width={60 + RIGHT} height="24" fill="transparent" />
      <rect x={right - 6} y={at - 11} width="17" height="22" rx="4" fill="var(--hot)" />
      <path d={`M${right - 2} ${at - 3}h9M${right - 2} ${at + 3}h9`} stroke="var(--hot-ink)" strokeWidth="1.5" />
      <text x={right - 12} y={at > TOP + 20 ? at - 6 : at + 16} textAnchor="end" fontSize="12" fontWeight="700" fill="var(--hot)" className="halo">
        {units.degrees(celsius, Number.isInteger(celsius) ? 0 : 1)}
      </text>
    </g>
  );
}
