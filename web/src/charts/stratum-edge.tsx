import { type KeyboardEvent, type PointerEvent, useState } from "react";
import { useUnits } from "../shared/format/units";

const REACH = 7;

/** One stratum of the tub as it is drawn. */
export type Layer = { key: string; name: string; share: number; y: number; height: number };

type Props = {
  layer: Layer;
  left: number;
  right: number;
  /** % of the mix that one pixel stands for. */
  perPixel: number;
  aim: (stratum: string, pct: number) => void;
};

/** The upper edge of a stratum: dragged, or moved by keys and confirmed with Enter, it asks for another share. */
export function StratumEdge({ layer, left, right, perPixel, aim }: Props) {
  const units = useUnits();
  const [from, setFrom] = useState<number | null>(null);
  const [wanted, setWanted] = useState<number | null>(null);
  const pct = wanted ?? layer.share;
  const y = layer.y - (pct - layer.share) / perPixel;
  const to = (value: number) => setWanted(Math.min(99, Math.max(0, Math.round(value * 10) / 10)));

  function finish() {
    if (wanted !== null && Math.abs(wanted - layer.share) >= 0.05) aim(layer.key, wanted);
    setFrom(null);
    setWanted(null);
  }

  function leave() {
    setFrom(null);
    setWanted(null);
  }

  function keys(event: KeyboardEvent) {
    const step = (event.shiftKey ? 1 : 0.1) * (event.key === "ArrowUp" ? 1 : event.key === "ArrowDown" ? -1 : 0);
    if (step !== 0) to(pct + step);
    else if (event.key === "Enter") finish();
    else if (event.key === "Escape") leave();
    else return;
    event.preventDefault();
  }

  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label={`${layer.name}, share of the mix; Enter asks Balance for it`}
      aria-valuenow={Math.round(pct * 10) / 10}
      aria-valuemin={0}
      aria-valuemax={99}
      aria-valuetext={`${units.number(pct, 1)} %`}
      data-edge={layer.key}
      className="cursor-ns-resize touch-none"
      onKeyDown={keys}
      onBlur={leave}
      onPointerDown={(event: PointerEvent<SVGGElement>) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        setFrom(event.clientY);
      }}
      onPointerMove={(event) => from !== null && to(layer.share + (from - event.clientY) * perPixel)}
      onPointerUp={finish}
      onPointerCancel={leave}
    >
      <rect x={left} y={layer.y - REACH} width={right - left} height={2 * REACH} fill="transparent" />
      {wanted !== null && (
        <g pointerEvents="none">
          <line x1={left} x2={right} y1={y} y2={y} stroke="var(--ink)" strokeWidth="2" strokeDasharray="5 3" />
          <text x={(left + right) / 2} y={y - 5} textAnchor="middle" fontSize="13" fontWeight="700" className="halo" fill="var(--ink)">
            {layer.name} {units.number(wanted, 1)} %
          </text>
        </g>
      )}
    </g>
  );
}
