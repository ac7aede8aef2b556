import { type ScaleLinear, scaleLinear } from "d3-scale";
import { area, curveMonotoneY, line } from "d3-shape";
import type { KeyboardEvent, PointerEvent } from "react";

import type { Schemas } from "../shared/api/client";

import { spread } from "./strata";
import { type Size, useSize } from "./use-size";
import { type Units, useUnits } from "../shared/format/units";

const LEFT = 40;
const HANDLE_ROOM = 12;
const WARMEST = 1;
const COLDEST = -28;
const STEP = 0.5;
const LABEL_GAP = 34;

type Analysis = Schemas["MixAnalysis"];
type Point = { t_c: number; frozen_pct: number };
type Scales = { x: ScaleLinear<number, number>; y: ScaleLinear<number, number>; right: number };
type Mark = { key: string; t: number; title: string; sub: string; colour: string; ink: string };

type Props = {
  analysis: Analysis;
  freezer: number;
  onFreezer?: (celsius: number) => void;
  /** Another curve to compare with. */
  ghost?: Analysis;
  /** The comparison line by sucrose equivalents. */
  comparison?: Schemas["ComparisonOut"];
  /** How much of what keeps water liquid is the work of one line, 0 to 1. */
  highlighted?: number;
};

/** The upright thermometer: the blue body is the share of the water that is ice; marks say what happens where. */
export function Thermometer(props: Props) {
  const [room, size] = useSize<HTMLDivElement>();
  return (
    <div ref={room} className="relative h-full">
      {size && size.height > 80 && <Drawing {...props} size={size} />}
    </div>
  );
}

function Drawing({ analysis, freezer, onFreezer, ghost, comparison, highlighted, size }: Props & { size: Size }) {
  const units = useUnits();
  const right = size.width - HANDLE_ROOM;
  const y = scaleLinear().domain([WARMEST, COLDEST]).range([6, size.height - 24]);
  const x = scaleLinear().domain([0, 100]).range([LEFT, right]);
  const scales = { x, y, right };
  const marks = marksOf(analysis, freezer, units);
  const described = marks.map((mark) => `${mark.title}, ${mark.sub}`).join("; ");
  return (
    <svg width={size.width} height={size.height} className="eased absolute inset-0 block touch-none select-none">
      <g role="img" aria-label={`Going cold: ${described}.`}>
        <Curve analysis={analysis} scales={scales} />
        {highlighted !== undefined && <KeptLiquid analysis={analysis} scales={scales} share={highlighted} />}
        {ghost && <path d={outline(points(ghost), scales)} fill="none" stroke="var(--muted)" strokeWidth="1.5" strokeDasharray="4 4" />}
        {comparison && <Comparison line={comparison} scales={scales} />}
        <Axes scales={scales} height={size.height} />
      </g>
      <Marks marks={marks} scales={scales} height={size.height} />
      {onFreezer && <FreezerHandle scales={scales} freezer={freezer} word={analysis.freezer.word} move={onFreezer} />}
    </svg>
  );
}

function points(analysis: Analysis): Point[] {
  const first = analysis.first_ice_c;
  if (first === null) return [];
  const { t_c, frozen_pct } = analysis.curve;
  const colder = t_c.map((celsius, index) => ({ t_c: celsius, frozen_pct: frozen_pct[index] ?? 0 }));
  return [{ t_c: first, frozen_pct: 0 }, ...colder.filter((point) => point.t_c < first && point.t_c >= COLDEST)];
}

function outline(drawn: Point[], { x, y }: Scales): string {
  const draw = line<Point>()
    .y((point) => y(point.t_c))
    .x((point) => x(point.frozen_pct))
    .curve(curveMonotoneY);
  return draw(drawn) ?? "";
}

function Curve({ analysis, scales }: { analysis: Analysis; scales: Scales }) {
  const { x, y, right } = scales;
  const body = area<Point>()
    .y((point) => y(point.t_c))
    .x0(LEFT)
    .x1((point) => x(point.frozen_pct))
    .curve(curveMonotoneY);
  const { scoop_c: scoop, scoop_uncertainty_c: soft } = analysis;
  return (
    <>
      <path d={body(points(analysis)) ?? ""} fill="var(--water)" />
      <path d={outline(points(analysis), scales)} fill="none" stroke="var(--curve)" strokeWidth="1.5" />
      {scoop !== null && scoop > COLDEST && (
        <rect
          x={LEFT}
          width={right - LEFT}
          y={y(scoop + soft)}
          height={y(scoop - soft) - y(scoop + soft)}
          fill="var(--band)"
          opacity="0.55"
        />
      )}
    </>
  );
}

/** The water that one line keeps liquid: its share of what the ice leaves. */
function KeptLiquid({ analysis, scales, share }: { analysis: Analysis; scales: Scales; share: number }) {
  const { x, y } = scales;
  const kept = area<Point>()
    .y((point) => y(point.t_c))
    .x0((point) => x(point.frozen_pct))
    .x1((point) => x(point.frozen_pct + share * (100 - point.frozen_pct)))
    .curve(curveMonotoneY);
  return <path d={kept(points(analysis)) ?? ""} fill="var(--sugars)" opacity="0.4" />;
}

function Comparison({ line: { t_c, frozen_pct }, scales }: { line: Schemas["ComparisonOut"]; scales: Scales }) {
  const drawn = t_c.map((celsius, index) => ({ t_c: celsius, frozen_pct: frozen_pct[index] ?? 0 })).filter((point) => point.t_c >= COLDEST);
  return <path d={outline(drawn, scales)} fill="none" stroke="var(--egg)" strokeWidth="2" strokeDasharray="1 4" strokeLinecap="round" />;
}

function Axes({ scales: { x, y, right }, height }: { scales: Scales; height: number }) {
  const units = useUnits();
  return (
    <g fontSize="12" fill="var(--muted)">
      <line x1={LEFT} x2={LEFT} y1={y(WARMEST)} y2={y(COLDEST)} stroke="var(--ink)" strokeWidth="1.5" />
      <line x1={LEFT} x2={right} y1={y(COLDEST)} y2={y(COLDEST)} stroke="var(--line)" />
      {units.ticks(WARMEST, COLDEST).map((tick) => (
        <g key={tick}>
          <line x1={LEFT - 5} x2={LEFT} y1={y(tick)} y2={y(tick)} stroke="var(--ink)" />
          <text x={LEFT - 8} y={y(tick) + 4} textAnchor="end">
            {units.degrees(tick, 0)}
          </text>
        </g>
      ))}
      {[0, 25, 50, 75, 100].map((tick) => (
        <text key={tick} x={x(tick)} y={height - 6} textAnchor={tick === 100 ? "end" : "middle"}>
          {tick === 100 ? "100\u00a0%" : tick}
        </text>
      ))}
    </g>
  );
}

function marksOf(analysis: Analysis, freezer: number, units: Units): Mark[] {
  const marks: Mark[] = [];
  const { first_ice_c: first, scoop_c: scoop } = analysis;
  if (first !== null && first >= COLDEST) {
    const title = `first ice ${units.degrees(first)}`;
    marks.push({ key: "first", t: first, title, sub: "crystals begin to form", colour: "var(--ink)", ink: "var(--ink)" });
  }
  if (scoop !== null && scoop >= COLDEST) {
    const title = `scoops ${units.degrees(scoop)}`;
    marks.push({ key: "scoop", t: scoop, title, sub: `give or take ${units.degreesApart(analysis.scoop_uncertainty_c)}`, colour: "var(--band-edge)", ink: "var(--ink)" });
  }
  const answered = analysis.freezer.t_c === freezer;
  marks.push({
    key: "freezer",
    t: Math.max(freezer, COLDEST),
    title: `your freezer ${units.degrees(freezer, Number.isInteger(freezer) ? 0 : 1)}`,
    sub: answered ? `${units.number(analysis.freezer.frozen_pct)} % ice, ${analysis.freezer.word}` : "…",
    colour: "var(--hot)",
    ink: "var(--hot)",
  });
  return marks;
}

function Marks({ marks, scales: { y, right }, height }: { marks: Mark[]; scales: Scales; height: number }) {
  const titles = spread(
    marks.map((mark) => y(mark.t) - 6),
    LABEL_GAP,
    16,
    height - 46,
  );
  return (
    <g pointerEvents="none">
      {marks.map((mark) => (
        <line
          key={mark.key}
          x1={LEFT}
          x2={right}
          y1={y(mark.t)}
          y2={y(mark.t)}
          stroke={mark.colour}
          strokeWidth={mark.key === "freezer" ? 2.2 : 1.5}
        />
      ))}
      {marks.map((mark, index) => (
        <g key={mark.key} className="halo" aria-hidden="true">
          <text x={LEFT + 8} y={titles[index]} fontSize="13" fontWeight="700" fill={mark.ink}>
            {mark.title}
          </text>
          <text x={LEFT + 8} y={(titles[index] ?? 0) + 20} fontSize="12" fill="var(--muted)">
            {mark.sub}
          </text>
        </g>
      ))}
    </g>
  );
}

const STEPS: Record<string, number> = {
  ArrowUp: STEP,
  ArrowRight: STEP,
  ArrowDown: -STEP,
  ArrowLeft: -STEP,
  PageUp: 4,
  PageDown: -4,
};

function FreezerHandle(props: { scales: Scales; freezer: number; word: string; move: (celsius: number) => void }) {
  const units = useUnits();
  const { freezer } = props;
  const { y, right } = props.scales;
  const at = y(Math.max(freezer, COLDEST));

  function move(celsius: number) {
    props.move(Math.min(0, Math.max(COLDEST, Math.round(celsius / STEP) * STEP)) + 0);
  }

  function drag(event: PointerEvent<SVGGElement>) {
    const svg = event.currentTarget.ownerSVGElement;
    if (event.buttons === 0 || !svg) return;
    move(y.invert(event.clientY - svg.getBoundingClientRect().top));
  }

  function keys(event: KeyboardEvent) {
    const step = STEPS[event.key];
    if (step === undefined) return;
    event.preventDefault();
    move(freezer + step);
  }

  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label="Freezer temperature"
      aria-orientation="vertical"
      aria-valuemin={COLDEST}
      aria-valuemax={0}
      aria-valuenow={freezer}
      aria-valuetext={`${units.temperature(freezer)}, ${props.word}`}
      onKeyDown={keys}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={drag}
      className="cursor-ns-resize"
    >
      <rect x={LEFT} y={at - 14} width={right - LEFT + HANDLE_ROOM} height="28" fill="transparent" />
      <rect x={right - 6} y={at - 11} width="17" height="22" rx="4" fill="var(--hot)" />
      <path d={`M${right - 2} ${at - 3}h9M${right - 2} ${at + 3}h9`} stroke="var(--hot-ink)" strokeWidth="1.5" />
    </g>
  );
}
