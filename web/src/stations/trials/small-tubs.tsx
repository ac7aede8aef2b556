import type { Schemas } from "../../shared/api/client";
import { useVocabulary } from "../../shared/api/vocabulary";
import { paint } from "../../charts/strata";
import { useUnits } from "../../shared/format/units";

type Variant = Schemas["VariantOut"];

const WIDTH = 112;
const HEIGHT = 190;
const LABEL_FROM = 30;

/** The variants as tubs to scale beside each other, the ice of the first drawn across the others. */
export function SmallTubs({ trial }: { trial: Schemas["TrialOut"] }) {
  const first = trial.variants[0];
  return (
    <div className="overflow-x-auto">
      <table className="w-full min-w-fit border-separate border-spacing-x-3 text-left">
        <thead>
          <tr>
            <td className="w-28" />
            {trial.variants.map((variant) => (
              <th key={variant.key} scope="col" className="align-bottom font-normal">
                <b className="mr-2 font-name text-xl">{variant.key}</b>
                <span className="text-sm text-muted">{variant.name}</span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr>
            <td className="align-bottom text-sm text-muted">
              {trial.serve_c === null ? "Ice as it is kept" : "Ice as served"}
              {first && <br />}
              {first && "dashed: A"}
            </td>
            {trial.variants.map((variant) => (
              <td key={variant.key}>{first && <SmallTub variant={variant} first={first} />}</td>
            ))}
          </tr>
          <Rows trial={trial} />
        </tbody>
      </table>
    </div>
  );
}

function SmallTub({ variant, first }: { variant: Variant; first: Variant }) {
  const { strata } = useVocabulary();
  const units = useUnits();
  const share = (key: string, of: Variant = variant) => of.strata.find((part) => part.key === key)?.grams ?? 0;
  const iceOf = (of: Variant) => (HEIGHT * share("water", of) * of.ice_pct) / 10_000;
  const ice = iceOf(variant);
  const line = HEIGHT - iceOf(first);
  const heights = strata.map(({ key }) => (HEIGHT * share(key)) / 100);
  const layers = strata.map(({ key, name }, at) => ({ key, name, y: heights.slice(0, at).reduce((sum, height) => sum + height, 0), height: heights[at] ?? 0 }));
  const said = layers.filter(({ height }) => height > 0).map(({ key, name }) => `${units.number(share(key), 1)} % ${name.toLowerCase()}`);
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width={WIDTH} height={HEIGHT} role="img" aria-label={`${variant.key}: ${said.join(", ")}; ${units.number(variant.ice_pct)} % of its water is ice`}>
      <defs>
        <pattern id={`ice-${variant.key}`} width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <line x1="0" y1="0" x2="0" y2="7" stroke="var(--ice)" strokeWidth="3" />
        </pattern>
      </defs>
      {layers.map((layer) => (
        <rect key={layer.key} width={WIDTH} y={layer.y} height={layer.height} fill={paint(layer.key)} />
      ))}
      <rect width={WIDTH} y={HEIGHT - ice} height={ice} fill={`url(#ice-${variant.key})`} />
      <line x1="0" x2={WIDTH} y1={line} y2={line} stroke="var(--ink)" strokeDasharray="5 4" strokeWidth="1.5" />
      {ice > LABEL_FROM && (
        <g>
          <rect x="18" y={HEIGHT - ice / 2 - 11} width={WIDTH - 36} height="22" rx="4" fill="var(--panel)" />
          <text x={WIDTH / 2} y={HEIGHT - ice / 2 + 4.5} textAnchor="middle" fontSize="13" fontWeight="650" fill="var(--ink)">
            {units.number(variant.ice_pct)} % ice
          </text>
        </g>
      )}
    </svg>
  );
}

/** What a cook compares: where each scoops, how it is from the freezer, how sweet, and the lines that alone differ. */
function Rows({ trial }: { trial: Schemas["TrialOut"] }) {
  const units = useUnits();
  const figure = (variant: Variant, key: string) => variant.figures.find((one) => one.key === key)?.value;
  const rows = [
    { name: "Scoops at", of: (variant: Variant) => (variant.scoop_c === null ? "never" : units.degrees(variant.scoop_c)) },
    { name: "From your freezer", of: (variant: Variant) => variant.word },
    { name: "Sweetness", of: (variant: Variant) => units.number(figure(variant, "sweetness") ?? 0, 1) },
    { name: "Fat", of: (variant: Variant) => units.number(figure(variant, "fat") ?? 0, 1) },
  ];
  const different = rows.filter(({ of }) => new Set(trial.variants.map(of)).size > 1);
  return (
    <>
      {different.map(({ name, of }) => (
        <tr key={name}>
          <th scope="row" className="pt-1 font-normal text-muted">
            {name}
          </th>
          {trial.variants.map((variant) => (
            <td key={variant.key} className="pt-1 font-semibold">
              {of(variant)}
            </td>
          ))}
        </tr>
      ))}
      {trial.lines.map((line) => (
        <tr key={line.name}>
          <th scope="row" className="max-w-40 pt-1 font-normal text-muted">
            {line.name}
          </th>
          {trial.variants.map((variant) => (
            <td key={variant.key} className="pt-1">
              {units.mass(line.grams[variant.key] ?? 0)}
            </td>
          ))}
        </tr>
      ))}
    </>
  );
}
