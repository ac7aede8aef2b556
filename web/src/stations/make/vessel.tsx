import { useUnits } from "../../shared/format/units";
import type { Step } from "./replay";

const WIDTH = 108;
const HEIGHT = 330;
const TARGET_AT = 0.82;

/** A vessel with the band in which nobody notices, a line at the target, and how full it is by what was typed. */
export function Vessel({ weighing, grams, stratum }: { weighing: NonNullable<Step["weighing"]>; grams: number | null; stratum: string }) {
  const units = useUnits();
  const full = Math.max(weighing.target_g / TARGET_AT, weighing.high_g * 1.05);
  const y = (value: number) => HEIGHT * (1 - Math.min(Math.max(value / full, 0), 1));
  const text = `${units.mass(weighing.target_g)}, between ${units.mass(weighing.low_g)} and ${units.mass(weighing.high_g)}`;
  return (
    <figure className="flex gap-3 max-sm:hidden">
      <svg width={WIDTH + 32} height={HEIGHT + 4} viewBox={`-16 -2 ${WIDTH + 32} ${HEIGHT + 4}`} role="img" aria-label={text}>
        <rect x={0} y={0} width={WIDTH} height={HEIGHT} rx={8} fill="var(--panel)" stroke="var(--ink)" strokeWidth={2} />
        {grams !== null && <rect x={3} y={y(grams)} width={WIDTH - 6} height={Math.max(HEIGHT - 3 - y(grams), 0)} fill={`var(--${stratum})`} />}
        <rect x={-14} y={y(weighing.high_g)} width={WIDTH + 28} height={Math.max(y(weighing.low_g) - y(weighing.high_g), 3)} fill="var(--band)" fillOpacity={0.6} stroke="var(--band-edge)" />
        <line x1={-16} x2={WIDTH + 16} y1={y(weighing.target_g)} y2={y(weighing.target_g)} stroke="var(--ink)" strokeWidth={3} />
      </svg>
      <figcaption className="w-28 self-start pt-8 text-sm text-muted">
        <b className="block text-base text-ink">{units.mass(weighing.target_g)}</b>
        {units.massFigure(weighing.low_g)} to {units.massFigure(weighing.high_g)} eats the same
        {weighing.fine && <span className="mt-1 block">on the fine scale</span>}
      </figcaption>
    </figure>
  );
}
