import { Slider } from "radix-ui";

import { useUnits } from "../../../shared/format/units";
import { Track } from "../../../ui/track";

type Ends = { min: number | null; max: number | null };

type Props = Ends & {
  name: string;
  /** The quantity; temperatures are said in the kitchen's unit. */
  of: string;
  range: [number, number];
  /** Where the mix stands now, and where it would stand. */
  before: number | null;
  after: number | null;
  onChange: (ends: Ends) => void;
};

/** A band on its track: both ends are dragged or moved by keys; needles say where the mix stands and would stand. */
export function BandSlider({ name, of, range, min, max, before, after, onChange }: Props) {
  const step = stepOf(range);
  const needles = [
    ...(before === null ? [] : [{ at: before, colour: "var(--muted)" }]),
    ...(after === null ? [] : [{ at: after, colour: "var(--needle)" }]),
  ];

  /** An end that was open and has not been moved stays open. */
  function change([low = range[0], high = range[1]]: number[]) {
    onChange({ min: min === null && low <= range[0] ? null : tidy(low), max: max === null && high >= range[1] ? null : tidy(high) });
  }

  return (
    <Slider.Root
      min={range[0]}
      max={range[1]}
      step={step}
      value={[min ?? range[0], max ?? range[1]]}
      onValueChange={change}
      className="relative flex h-[24px] touch-none items-center"
    >
      <Slider.Track className="w-full">
        <Track range={range} band={[min, max]} needles={needles} />
      </Slider.Track>
      <Handle label={`${name}, least`} of={of} value={min} />
      <Handle label={`${name}, most`} of={of} value={max} />
    </Slider.Root>
  );
}

function Handle({ label, of, value }: { label: string; of: string; value: number | null }) {
  const units = useUnits();
  const said = value === null ? "open" : of.endsWith("_c") ? units.temperature(value) : units.number(value, 1);
  return (
    <Slider.Thumb aria-label={label} aria-valuetext={said} className="grid h-[24px] w-[24px] cursor-ew-resize place-items-center rounded-button">
      <span className="h-4 w-1.5 rounded-sm border border-band-edge bg-band" />
    </Slider.Thumb>
  );
}

function stepOf([low, high]: [number, number]): number {
  return high - low > 20 ? 0.5 : high - low > 4 ? 0.1 : 0.02;
}

function tidy(value: number): number {
  return Math.round(value * 1000) / 1000;
}
