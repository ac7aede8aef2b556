import type { Schemas } from "../../api/client";
import { useVocabulary } from "../../api/queries";
import { shown } from "../../ui/numbers";

type Track = { key: keyof Schemas["Figures"]; name: string; said: string; low: number; high: number };

const TRACKS: Track[] = [
  { key: "fat", name: "Fat", said: "of any origin", low: 0, high: 25 },
  { key: "msnf", name: "MSNF", said: "milk solids not fat", low: 0, high: 16 },
  { key: "sugars", name: "Sugars", said: "without the milk’s lactose", low: 0, high: 36 },
  { key: "total_solids", name: "Total solids", said: "all but water and alcohol", low: 10, high: 60 },
  { key: "sweetness_pod", name: "Sweetness", said: "as table sugar (POD)", low: 0, high: 36 },
  { key: "freezing_power_pac", name: "Freezing power", said: "as table sugar (PAC)", low: 0, high: 50 },
];

/** The figures behind the drawings, each on a track with the band usual for the style. */
export function FiguresStrip({ analysis, style }: { analysis: Schemas["MixAnalysis"]; style: string | null }) {
  const { styles } = useVocabulary();
  const known = styles.find((candidate) => candidate.key === style);
  return (
    <div className="grid grid-cols-2 gap-x-6 gap-y-3 py-1 md:grid-cols-3 xl:grid-cols-6">
      {TRACKS.map((track) => (
        <Figure key={track.key} track={track} value={analysis.figures[track.key]} band={known?.bands[track.key]} />
      ))}
    </div>
  );
}

function Figure({ track, value, band }: { track: Track; value: number | null; band: number[] | undefined }) {
  if (value === null) return null;
  const [low, high] = [band?.[0], band?.[1]];
  const out = low !== undefined && high !== undefined && (value < low - 0.05 || value > high + 0.05);
  const at = (figure: number) => `${Math.min(100, Math.max(0, (100 * (figure - track.low)) / (track.high - track.low)))}%`;
  return (
    <div>
      <p className="flex items-baseline gap-1.5">
        <b>{track.name}</b>
        <span className={`ml-auto font-semibold ${out ? "text-hot" : ""}`}>{shown(value, 1)}</span>
      </p>
      <div aria-hidden className="relative my-1 h-2 rounded bg-steel">
        {low !== undefined && high !== undefined && (
          <span
            className="absolute inset-y-0 rounded border border-band-edge bg-band"
            style={{ left: at(low), width: `calc(max(4px, ${at(high)} - ${at(low)}))` }}
          />
        )}
        <span
          className="absolute -top-1 -bottom-1 w-1 -translate-x-1/2 rounded-full transition-[left] duration-150"
          style={{ left: at(value), background: out ? "var(--hot)" : "var(--needle)" }}
        />
      </div>
      <p className="text-sm text-muted">
        {low !== undefined && high !== undefined ? `usual ${low === high ? shown(low) : `${shown(low)}–${shown(high)}`}` : track.said}
      </p>
    </div>
  );
}
