import { memo, useId } from "react";

import type { Schemas } from "../shared/api/client";
import { useVocabulary } from "../shared/api/vocabulary";
import { degrees, shown } from "../shared/format/numbers";
import { PAINT, paint, spread } from "./strata";
import { type Layer, StratumEdge } from "./stratum-edge";
import { type Size, useSize } from "./use-size";

const TOP = 6;
const LEFT = 6;
const TAPER = 0.07;
const LABELS_WIDTH = 132;
const LABEL_GAP = 20;
const LETTER_HEIGHT = 17;
const ICE_LABEL = { width: 112, height: 24 };

type Analysis = Schemas["MixAnalysis"];
type Props = {
  analysis: Analysis;
  /** Another mix, its strata outlined over this one's. */
  ghost?: Analysis;
  /** The part of each stratum, 0 to 1, that one line brings. */
  highlighted?: Record<string, number>;
  /** Asked for another share, in %, of a stratum by dragging its upper edge. */
  aim?: (stratum: string, pct: number) => void;
};

/** A cut through the tub: strata to scale, air on top, ice hatched into the water. */
export const Tub = memo(function Tub(props: Props) {
  const [room, size] = useSize<HTMLDivElement>();
  return (
    <div ref={room} className="relative h-full">
      {size && size.height > 80 && <TubDrawing {...props} size={size} />}
    </div>
  );
});

function layersOf(analysis: Analysis, strata: Schemas["Named"][], top: number, bottom: number): Layer[] {
  let y = top;
  return strata.map(({ key, name }) => {
    const share = analysis.strata.find((part) => part.key === key)?.grams ?? 0;
    const layer = { key, name, share, y, height: (share * (bottom - top)) / 100 };
    y += layer.height;
    return layer;
  });
}

function TubDrawing({ analysis, ghost, highlighted, aim, size }: Props & { size: Size }) {
  const id = useId();
  const { strata } = useVocabulary();
  const bottom = size.height - 6;
  const right = Math.max(LEFT + 90, size.width - LABELS_WIDTH);
  const middle = (LEFT + right) / 2;
  const wall = (y: number) => (TAPER * (right - LEFT) * (y - TOP)) / (bottom - TOP);
  const topOf = (of: Analysis) => TOP + (of.overrun_pct / (100 + of.overrun_pct)) * (bottom - TOP);
  const mixTop = topOf(analysis);
  const layers = layersOf(analysis, strata, mixTop, bottom);
  const before = ghost ? layersOf(ghost, strata, topOf(ghost), bottom) : [];
  const present = layers.filter((layer) => layer.share > 0.005);
  const labels = spread(
    present.map((layer) => layer.y + layer.height / 2),
    LABEL_GAP,
    TOP + 12,
    bottom - 8,
  );
  const frozen = analysis.freezer.frozen_pct;
  const iceHeight = ((layers.find((layer) => layer.key === "water")?.height ?? 0) * frozen) / 100;
  const iceMiddle = bottom - iceHeight / 2;
  const freezer = degrees(analysis.freezer.t_c, Number.isInteger(analysis.freezer.t_c) ? 0 : 1);
  const said = present.map((layer) => `${shown(layer.share, 1)} % ${layer.name.toLowerCase()}`).join(", ");

  return (
    <svg width={size.width} height={size.height} className="eased absolute inset-0 block">
      <g role="img" aria-label={`In the tub: ${said}; ${shown(frozen)} % of the water is ice at ${freezer}C; air at ${shown(analysis.overrun_pct)} % overrun.`}>
      <defs>
        <pattern id={`${id}ice`} width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <line x1="0" y1="0" x2="0" y2="7" stroke="var(--ice)" strokeWidth="3" />
        </pattern>
        <clipPath id={`${id}tub`}>
          <path d={`M${LEFT} ${TOP}H${right}L${right - wall(bottom)} ${bottom}H${LEFT + wall(bottom)}Z`} />
        </clipPath>
      </defs>
      <path
        d={`M${LEFT} ${TOP}H${right}L${right - wall(mixTop)} ${mixTop}H${LEFT + wall(mixTop)}Z`}
        fill="none"
        stroke="var(--muted)"
        strokeDasharray="2 3"
      />
      {mixTop - TOP > 22 && (
        <text x={middle} y={(TOP + mixTop) / 2 + 4} textAnchor="middle" fontSize="12.5" fill="var(--muted)">
          air, {shown(analysis.overrun_pct)} % overrun
        </text>
      )}
      <g clipPath={`url(#${id}tub)`}>
        {layers.map((layer) => (
          <rect
            key={layer.key}
            x={LEFT}
            width={right - LEFT}
            y={layer.y}
            height={layer.height}
            fill={paint(layer.key)}
            stroke="var(--panel)"
            strokeWidth="0.75"
          />
        ))}
        <rect x={LEFT} width={right - LEFT} y={bottom - iceHeight} height={iceHeight} fill={`url(#${id}ice)`} />
        {highlighted &&
          layers.map((layer) => {
            const bright = (highlighted[layer.key] ?? 0) * (right - LEFT - 2 * wall(layer.y));
            const from = LEFT + wall(layer.y) + bright;
            return <rect key={layer.key} x={from} width={Math.max(0, right - from)} y={layer.y} height={layer.height} fill="var(--panel)" opacity="0.72" />;
          })}
        {before.map((layer) => (
          <line key={layer.key} x1={LEFT} x2={right} y1={layer.y} y2={layer.y} stroke="var(--ink)" strokeDasharray="5 4" />
        ))}
      </g>
      {present.map((layer) =>
        layer.height > LETTER_HEIGHT && layer.key !== "water" ? (
          <text
            key={layer.key}
            x={middle}
            y={layer.y + layer.height / 2 + 4.5}
            textAnchor="middle"
            fontSize="13"
            fontWeight="700"
            fill={PAINT[layer.key]?.on}
          >
            {PAINT[layer.key]?.letter}
          </text>
        ) : null,
      )}
      {iceHeight > ICE_LABEL.height + 4 && (
        <g>
          <rect
            x={middle - ICE_LABEL.width / 2}
            y={iceMiddle - ICE_LABEL.height / 2}
            width={ICE_LABEL.width}
            height={ICE_LABEL.height}
            rx="4"
            fill="var(--panel)"
          />
          <text x={middle} y={iceMiddle + 4.5} textAnchor="middle" fontSize="13" fontWeight="650" fill="var(--ink)">
            {shown(frozen)} % ice at {freezer}
          </text>
        </g>
      )}
      {present.map((layer, index) => {
        const from = layer.y + layer.height / 2;
        const at = labels[index] ?? 0;
        return (
          <g key={layer.key}>
            <path
              d={`M${right - wall(from) + 3} ${from}L${right + 14} ${at}`}
              stroke="var(--muted)"
              strokeWidth="0.75"
              fill="none"
            />
            <text x={right + 19} y={at + 4.5} fontSize="13.5" fill="var(--ink)">
              <tspan fontWeight="700">{layer.share < 0.05 ? "trace" : shown(layer.share, 1)}</tspan> {layer.name}
              {highlighted && (highlighted[layer.key] ?? 0) > 0.005 && <tspan fill="var(--muted)"> {shown(100 * (highlighted[layer.key] ?? 0))} %</tspan>}
            </text>
          </g>
        );
      })}
      </g>
      {aim &&
        present
          .filter((layer) => layer.key !== "water")
          .map((layer) => (
            <StratumEdge
              key={layer.key}
              layer={layer}
              left={LEFT + wall(layer.y)}
              right={right - wall(layer.y)}
              perPixel={100 / (bottom - mixTop)}
              aim={aim}
            />
          ))}
    </svg>
  );
}
