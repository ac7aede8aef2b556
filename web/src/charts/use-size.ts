import { type RefObject, useLayoutEffect, useRef, useState } from "react";

export type Size = { width: number; height: number };

/** Measure the room a drawing has, so that it fills it and its type keeps its size. */
export function useSize<T extends Element>(): [RefObject<T | null>, Size | null] {
  const room = useRef<T>(null);
  const [size, setSize] = useState<Size | null>(null);
  useLayoutEffect(() => {
    const element = room.current;
    if (!element) return;
    const measure = () => {
      const box = element.getBoundingClientRect();
      setSize({ width: Math.floor(box.width), height: Math.floor(box.height) });
    };
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    measure();
    return () => observer.disconnect();
  }, []);
  return [room, size];
}
