import { memo, useId } from "react";

import type { Schemas } from "../shared/api/client";
import { useVocabulary } from "../shared/api/vocabulary";

import { PAINT, paint, spread } from "./strata";
import { type Layer, StratumEdge } from "./stratum-edge";
import { type Size, useSize } from "./use-size";
import { useUnits } from "../shared/format/units";

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

/** Where everything of the tub is: its walls lean in towards the bottom. */
type Shape = { bottom: number; right: number; middle: number; mixTop: number; wall: (y: number) => number };

function shapeOf(analysis: Analysis, size: Size): Shape {
  const bottom = size.height - 6;
  const right = Math.max(LEFT + 90, size.width - LABELS_WIDTH);
  const wall = (y: number) => (TAPER * (right - LEFT) * (y - TOP)) / (bottom - TOP);
  return { bottom, right, middle: (LEFT + right) / 2, mixTop: topOf(analysis, bottom), wall };
}

/** Where the mix begins below its air. */
function topOf({ overrun_pct: overrun }: Analysis, bottom: number): number {
  return TOP + (overrun / (100 + overrun)) * (bottom - TOP);
}

function TubDrawing({ analysis, ghost, highlighted, aim, size }: Props & { size: Size }) {
  const { strata } = useVocabulary();
  const units = useUnits();
  const shape = shapeOf(analysis, size);
  const layers = layersOf(analysis, strata, shape.mixTop, shape.bottom);
  const before = ghost ? layersOf(ghost, strata, topOf(ghost, shape.bottom), shape.bottom) : [];
  const present = layers.filter((layer) => layer.share > 0.005);
  const frozen = analysis.freezer.frozen_pct;
  const said = present.map((layer) => `${units.number(layer.share, 1)} % ${layer.name.toLowerCase()}`).join(", ");
  const cold = `${units.number(frozen)} % of the water is ice at ${units.setting(analysis.freezer.t_c)}`;
  return (
    <svg width={size.width} height={size.height} className="eased absolute inset-0 block">
      <g role="img" aria-label={`In the tub: ${said}; ${cold}; air at ${units.number(analysis.overrun_pct)} % overrun.`}>
        <Air analysis={analysis} shape={shape} />
        <Layers layers={layers} before={before} frozen={frozen} shape={shape} {...(highlighted ? { highlighted } : {})} />
        <IceLabel analysis={analysis} layers={layers} shape={shape} />
        <Labels present={present} shape={shape} {...(highlighted ? { highlighted } : {})} />
      </g>
      {aim &&
        present
          .filter((layer) => layer.key !== "water")
          .map((layer) => (
            <StratumEdge
              key={layer.key}
              layer={layer}
              left={LEFT + shape.wall(layer.y)}
              right={shape.right - shape.wall(layer.y)}
              perPixel={100 / (shape.bottom - shape.mixTop)}
              aim={aim}
            />
          ))}
    </svg>
  );
}

function Air({ analysis, shape: { right, middle, mixTop, wall } }: { analysis: Analysis; shape: Shape }) {
  const units = useUnits();
  return (
    <>
      <path d={`M${LEFT} ${TOP}H${right}L${right - wall(mixTop)} ${mixTop}H${LEFT + wall(mixTop)}Z`} fill="none" stroke="var(--muted)" strokeDasharray="2 3" />
      {mixTop - TOP > 22 && (
        <text x={middle} y={(TOP + mixTop) / 2 + 4} textAnchor="middle" fontSize="12.5" fill="var(--muted)">
          air, {units.number(analysis.overrun_pct)}&nbsp;% overrun
        </text>
      )}
    </>
  );
}

type LayersProps = { layers: Layer[]; before: Layer[]; frozen: number; shape: Shape; highlighted?: Record<string, number> };

/** The strata within the walls: ice hatched into the water, what one line does not bring paled, another mix dashed. */
function Layers({ layers, before, frozen, shape: { bottom, right, middle, wall }, highlighted }: LayersProps) {
  const id = useId();
  const iceHeight = iceHeightOf(layers, frozen);
  const paled = (layer: Layer) => LEFT + wall(layer.y) + (highlighted?.[layer.key] ?? 0) * (right - LEFT - 2 * wall(layer.y));
  return (
    <>
      <defs>
        <pattern id={`${id}ice`} width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <line x1="0" y1="0" x2="0" y2="7" stroke="var(--ice)" strokeWidth="3" />
        </pattern>
        <clipPath id={`${id}tub`}>
          <path d={`M${LEFT} ${TOP}H${right}L${right - wall(bottom)} ${bottom}H${LEFT + wall(bottom)}Z`} />
        </clipPath>
      </defs>
      <g clipPath={`url(#${id}tub)`}>
        {layers.map(({ key, y, height }) => (
          <rect key={key} x={LEFT} width={right - LEFT} y={y} height={height} fill={paint(key)} stroke="var(--panel)" strokeWidth="0.75" />
        ))}
        <rect x={LEFT} width={right - LEFT} y={bottom - iceHeight} height={iceHeight} fill={`url(#${id}ice)`} />
        {highlighted &&
          layers.map((layer) => (
            <rect key={layer.key} x={paled(layer)} width={Math.max(0, right - paled(layer))} y={layer.y} height={layer.height} fill="var(--panel)" opacity="0.72" />
          ))}
        {before.map(({ key, y }) => (
          <line key={key} x1={LEFT} x2={right} y1={y} y2={y} stroke="var(--ink)" strokeDasharray="5 4" />
        ))}
      </g>
      {layers
        .filter((layer) => layer.height > LETTER_HEIGHT && layer.key !== "water" && layer.share > 0.005)
        .map(({ key, y, height }) => (
          <text key={key} x={middle} y={y + height / 2 + 4.5} textAnchor="middle" fontSize="13" fontWeight="700" fill={PAINT[key]?.on}>
            {PAINT[key]?.letter}
          </text>
        ))}
    </>
  );
}

function iceHeightOf(layers: Layer[], frozen: number): number {
  return ((layers.find((layer) => layer.key === "water")?.height ?? 0) * frozen) / 100;
}

function IceLabel({ analysis, layers, shape: { bottom, middle } }: { analysis: Analysis; layers: Layer[]; shape: Shape }) {
  const units = useUnits();
  const { frozen_pct: frozen, t_c: freezer } = analysis.freezer;
  const height = iceHeightOf(layers, frozen);
  if (height <= ICE_LABEL.height + 4) return null;
  const at = bottom - height / 2;
  return (
    <g>
      <rect x={middle - ICE_LABEL.width / 2} y={at - ICE_LABEL.height / 2} width={ICE_LABEL.width} height={ICE_LABEL.height} rx="4" fill="var(--panel)" />
      <text x={middle} y={at + 4.5} textAnchor="middle" fontSize="13" fontWeight="650" fill="var(--ink)">
        {units.number(frozen)}&nbsp;% ice at {units.degrees(freezer, Number.isInteger(freezer) ? 0 : 1)}
      </text>
    </g>
  );
}

/** What each stratum is called and its share, beside the tub and apart from each other. */
function Labels({ present, shape: { bottom, right, wall }, highlighted }: { present: Layer[]; shape: Shape; highlighted?: Record<string, number> }) {
  const units = useUnits();
  const places = spread(
    present.map((layer) => layer.y + layer.height / 2),
    LABEL_GAP,
    TOP + 12,
    bottom - 8,
  );
  return present.map((layer, index) => {
    const from = layer.y + layer.height / 2;
    const at = places[index] ?? 0;
    const share = highlighted?.[layer.key] ?? 0;
    return (
      <g key={layer.key}>
        <path d={`M${right - wall(from) + 3} ${from}L${right + 14} ${at}`} stroke="var(--muted)" strokeWidth="0.75" fill="none" />
        <text x={right + 19} y={at + 4.5} fontSize="13.5" fill="var(--ink)">
          <tspan fontWeight="700">{layer.share < 0.05 ? "trace" : units.number(layer.share, 1)}</tspan> {layer.name}
          {share > 0.005 && <tspan fill="var(--muted)"> {units.number(100 * share)}&nbsp;%</tspan>}
        </text>
      </g>
    );
  });
}
