import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";

import { useSize } from "../../charts/use-size";
import type { Schemas } from "../../shared/api/client";
import { useUnits } from "../../shared/format/units";

type Watched = Schemas["WatchOut"];
type At = number[];

const LEFT = 46;
const BOTTOM = 22;
const TOP = 8;
const ROOM_K = 1.5;

/** What a probe logged, drawn on; dashed as it was planned, dotted as it goes on, and the band that is wanted. */
export function WatchCurve({ watched, over, height }: { watched: Watched; over: string; height: number }) {
  const [room, size] = useSize<HTMLDivElement>();
  return (
    <div ref={room} className="w-full" style={{ height }}>
      {size && size.width > 120 && watched.points.length > 1 && <Drawing watched={watched} width={size.width} height={height} over={over} />}
    </div>
  );
}

function Drawing({ watched, width, height, over }: { watched: Watched; width: number; height: number; over: string }) {
  const units = useUnits();
  const { points, planned, ahead, left_min } = watched;
  const [minute = 0, celsius = 0] = points.at(-1) ?? [];
  const out = left_min === null ? null : minute + left_min;
  const ends = Math.max(minute * 1.05, out === null ? 0 : out * 1.12, left_min === null ? (planned.at(-1)?.[0] ?? 0) : 0, 1);
  const within = ([at = 0]: At) => at <= ends;
  const shown = [...points, ...planned.filter(within), ...ahead.filter(within)].map(([, at = 0]) => at);
  const wanted = [watched.low, watched.high].filter((one) => one !== null);
  const low = Math.min(...shown, ...wanted) - ROOM_K;
  const high = Math.max(...shown, ...wanted) + ROOM_K;
  const x = scaleLinear().domain([0, ends]).range([LEFT, width - 8]);
  const y = scaleLinear().domain([low, high]).range([height - BOTTOM, TOP]);
  const draw = line<At>()
    .x(([at = 0]) => x(at))
    .y(([, at = 0]) => y(at));
  const [from, to] = [watched.low ?? low, watched.high ?? high];
  return (
    <svg width={width} height={height} role="img" aria-label={`${over}: ${units.temperature(celsius)} after ${units.number(minute)} minutes`}>
      {wanted.length > 0 && <rect x={LEFT} width={Math.max(0, width - 8 - LEFT)} y={y(to)} height={Math.max(2, y(from) - y(to))} fill="var(--band)" opacity="0.6" />}
      {y.ticks(5).map((tick) => (
        <g key={tick}>
          <line x1={LEFT} x2={width - 8} y1={y(tick)} y2={y(tick)} stroke="var(--line)" />
          <text x={LEFT - 6} y={y(tick) + 4} textAnchor="end" fontSize="13" fill="var(--muted)">
            {units.degrees(tick, 0)}
          </text>
        </g>
      ))}
      {x.ticks(6).map((tick) => (
        <text key={tick} x={x(tick)} y={height - 4} textAnchor="middle" fontSize="13" fill="var(--muted)">
          {units.number(tick, Number.isInteger(tick) ? 0 : 1)}
        </text>
      ))}
      <path d={draw(planned.filter(within)) ?? ""} fill="none" stroke="var(--muted)" strokeWidth="2" strokeDasharray="7 6" />
      <path d={draw(points) ?? ""} fill="none" stroke="var(--ink)" strokeWidth="3.5" strokeLinejoin="round" />
      <path d={draw(ahead.filter(within)) ?? ""} fill="none" stroke="var(--ink)" strokeWidth="2" strokeDasharray="2 5" />
      {planned.length > 0 && (
        <text x={LEFT + 8} y={(y(from) + y(to)) / 2 + 4} fontSize="13" fontWeight="600" fill="var(--ink)">
          take it out here
        </text>
      )}
      {out !== null && left_min !== null && left_min > 0 && (
        <>
          <line x1={x(out)} x2={x(out)} y1={y(to) - 8} y2={height - BOTTOM} stroke="var(--hot)" strokeWidth="3" />
          <text x={x(out) - 8} y={y(to) - 12} textAnchor="end" fontSize="14" fontWeight="600" fill="var(--hot)">
            in {units.number(left_min)} min
          </text>
        </>
      )}
      <circle cx={x(minute)} cy={y(celsius)} r="6" fill="var(--ink)" />
    </svg>
  );
}
