import { type KeyboardEvent, type PointerEvent, useRef } from "react";

import { shown } from "../../../shared/format/numbers";

type Ends = { min: number | null; max: number | null };

type Props = Ends & {
  name: string;
  range: [number, number];
  /** Where the mix stands now, and where it would stand. */
  before: number | null;
  after: number | null;
  onChange: (ends: Ends) => void;
};

/** A band on its strip: both ends are dragged or moved by keys; needles say where the mix stands and would stand. */
export function BandSlider(props: Props) {
  const { range, min, max, before, after } = props;
  const strip = useRef<HTMLDivElement>(null);
  const step = stepOf(range);
  const at = (value: number) => `${Math.min(100, Math.max(0, (100 * (value - range[0])) / (range[1] - range[0])))}%`;

  function move(end: "min" | "max", value: number) {
    const rounded = Math.round(Math.min(range[1], Math.max(range[0], value)) / step) * step;
    const low = end === "min" ? rounded : (min ?? range[0]);
    const high = end === "max" ? rounded : (max ?? range[1]);
    props.onChange(end === "min" ? { min: tidy(Math.min(low, high)), max } : { min, max: tidy(Math.max(low, high)) });
  }

  function drag(end: "min" | "max", event: PointerEvent) {
    const box = strip.current?.getBoundingClientRect();
    if (event.buttons === 0 || !box) return;
    move(end, range[0] + ((event.clientX - box.left) / box.width) * (range[1] - range[0]));
  }

  function keys(end: "min" | "max", event: KeyboardEvent) {
    const by = STEPS[event.key];
    if (by === undefined) return;
    event.preventDefault();
    const now = (end === "min" ? min : max) ?? (end === "min" ? range[0] : range[1]);
    move(end, now + by * step * (event.shiftKey ? 10 : 1));
  }

  const handle = (end: "min" | "max", value: number | null) => (
    <span
      role="slider"
      tabIndex={0}
      aria-label={`${props.name}, ${end === "min" ? "least" : "most"}`}
      aria-valuemin={range[0]}
      aria-valuemax={range[1]}
      aria-valuenow={value ?? (end === "min" ? range[0] : range[1])}
      aria-valuetext={value === null ? "open" : shown(value, 1)}
      onKeyDown={(event) => keys(end, event)}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={(event) => drag(end, event)}
      className="absolute -top-2.5 grid h-7 w-[24px] -translate-x-1/2 cursor-ew-resize touch-none place-items-center rounded-button"
      style={{ left: at(value ?? (end === "min" ? range[0] : range[1])) }}
    >
      <span className="h-4 w-1.5 rounded-sm border border-band-edge bg-band" />
    </span>
  );
  return (
    <div ref={strip} className="relative h-2 rounded-sm bg-steel outline outline-line">
      <span className="absolute inset-y-0 border border-band-edge bg-band" style={{ left: at(min ?? range[0]), right: `calc(100% - ${at(max ?? range[1])})` }} />
      {before !== null && <span className="absolute -inset-y-1 w-1 -translate-x-1/2 rounded-full bg-muted" style={{ left: at(before) }} />}
      {after !== null && <span className="absolute -inset-y-1.5 w-1 -translate-x-1/2 rounded-full" style={{ left: at(after), background: "var(--needle)" }} />}
      {handle("min", min)}
      {handle("max", max)}
    </div>
  );
}

const STEPS: Record<string, number> = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1, PageDown: -10, PageUp: 10 };

function stepOf([low, high]: [number, number]): number {
  return high - low > 20 ? 0.5 : high - low > 4 ? 0.1 : 0.02;
}

function tidy(value: number): number {
  return Math.round(value * 1000) / 1000;
}
