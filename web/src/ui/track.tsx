import type { ReactNode } from "react";

type Props = {
  /** The ends of what is drawn. */
  range: readonly [number, number];
  /** Where it should lie; an open end reaches to that of the track. */
  band?: readonly [number | null, number | null] | null | undefined;
  needles?: readonly { at: number; colour: string }[];
  className?: string;
  children?: ReactNode;
};

/** A value against its band on a strip: the one drawing of all outcomes, figures, doses and targets. */
export function Track({ range, band, needles = [], className = "", children }: Props) {
  const [low, high] = [band?.[0] ?? range[0], band?.[1] ?? range[1]];
  return (
    <span aria-hidden={children ? undefined : true} className={`relative block h-2 rounded-sm bg-steel outline outline-line ${className}`}>
      {band && (
        <span
          className="absolute inset-y-0 rounded-sm border border-band-edge bg-band"
          style={{ left: placeOn(range, low), width: `calc(max(4px, ${placeOn(range, high)} - ${placeOn(range, low)}))` }}
        />
      )}
      {needles.map(({ at, colour }, index) => (
        <span key={index} className="absolute -inset-y-1 w-1 -translate-x-1/2 rounded-full" style={{ left: placeOn(range, at), background: colour }} />
      ))}
      {children}
    </span>
  );
}

/** Where a value lies on a track, from its left end. */
export function placeOn([least, most]: readonly [number, number], value: number): string {
  return `${Math.min(100, Math.max(0, (100 * (value - least)) / (most - least)))}%`;
}
