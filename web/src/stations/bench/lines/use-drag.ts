import { type PointerEvent, useRef } from "react";

type Drag = { x: number; grams: number; perPixel: number };

/**
 * Dragging the length of a line's bar: what it weighs follows the pointer in steps of the scale, with Shift in
 * tens of them. Escape or a lost pointer takes it back.
 */
export function useDrag(props: {
  grams: number | null;
  step: number;
  /** g that one pixel stands for on a bar so wide. */
  perPixel: (width: number) => number;
  weigh: (grams: number) => void;
  done: () => void;
  retract: () => void;
}) {
  const drag = useRef<Drag | null>(null);
  const end = (finish: () => void) => {
    if (!drag.current) return;
    drag.current = null;
    finish();
  };
  return {
    onPointerDown: (event: PointerEvent<HTMLElement>) => {
      if (event.button !== 0) return;
      event.currentTarget.setPointerCapture(event.pointerId);
      drag.current = { x: event.clientX, grams: props.grams ?? 0, perPixel: props.perPixel(event.currentTarget.clientWidth) };
    },
    onPointerMove: (event: PointerEvent<HTMLElement>) => {
      if (!drag.current) return;
      const { x, grams, perPixel } = drag.current;
      const step = props.step * (event.shiftKey ? 10 : 1);
      const moved = grams + (event.clientX - x) * perPixel;
      if (Math.abs(event.clientX - x) > 2) props.weigh(Math.max(0, Math.round(moved / step) * step));
    },
    onPointerUp: () => end(props.done),
    onPointerCancel: () => end(props.retract),
  };
}
