import { Thermometer } from "../../charts/thermometer";
import type { Schemas } from "../../shared/api/client";
import { useKitchen } from "../../shared/api/kitchen";

import { allergenSentence, costSentence, placesSentence } from "../../shared/format/sentences";
import { Learnt } from "../../ui/learnt";
import { Why } from "../../ui/why";
import { type Units, useUnits } from "../../shared/format/units";

/** What the batch will be: as planned beside as made. */
export function Outcome({ batch }: { batch: Schemas["BatchOut"] }) {
  const { planned, as_made: asMade } = batch;
  const changed = batch.lines.some((line) => line.as_made_g !== null && line.as_made_g !== line.planned_g);
  return (
    <section aria-label="What it will be" className="panel p-4">
      <div className="grid gap-4 sm:grid-cols-2">
        <Side title="As planned" analysis={planned} />
        <Side title="As made" analysis={asMade} other={planned} message={changed ? null : "Nothing weighed differently yet."} fault={batch.fault} />
      </div>
      {asMade && <AsMade batch={batch} places={asMade.places} />}
      {asMade && (
        <div className="mt-3 print:hidden">
          <p className="text-sm text-muted">Going cold as made{changed ? "; dashed, as planned" : ""}</p>
          <div className="h-80">
            <Thermometer analysis={asMade} freezer={asMade.freezer.t_c} {...(changed ? { ghost: planned } : {})} />
          </div>
        </div>
      )}
    </section>
  );
}

/** What the Bench says below its verdict, of what went in and by what was known of it then. */
function AsMade({ batch, places }: { batch: Schemas["BatchOut"]; places: Schemas["PlaceOut"][] }) {
  const { currency } = useKitchen();
  const units = useUnits();
  const { cost } = batch;
  return (
    <div className="mt-3 text-sm text-muted">
      <p>
        {placesSentence(places, units)} <Why of="cabinet" />
      </p>
      <p>
        {allergenSentence({ allergens: batch.allergens, mayHold: batch.may_hold, allergensNotStated: batch.allergens_not_stated })} {cost && costSentence(cost, currency, units)}{" "}
        {cost && <Why of="cost" />}
      </p>
    </div>
  );
}

function Side(props: {
  title: string;
  analysis: Schemas["MixAnalysis"] | null;
  other?: Schemas["MixAnalysis"];
  message?: string | null;
  fault?: string;
}) {
  const { analysis, other } = props;
  const units = useUnits();
  if (!analysis) {
    return (
      <div>
        <h2>{props.title}</h2>
        <p>{props.fault ? "What was noted makes no mix." : "Nothing went in."}</p>
      </div>
    );
  }
  const rows = [
    ["first ice", analysis.first_ice_c, other?.first_ice_c, 1],
    ["scoops at", analysis.scoop_c, other?.scoop_c, 1],
    ["% ice in the freezer", analysis.freezer.frozen_pct, other?.freezer.frozen_pct, 1],
    ["sweetness", analysis.figures.sweetness_pod, other?.figures.sweetness_pod, 1],
    ["fat", analysis.figures.fat, other?.figures.fat, 1],
    ["total solids", analysis.figures.total_solids, other?.figures.total_solids, 1],
  ] as const;
  return (
    <div data-side={props.title}>
      <h2>{props.title}</h2>
      <p className="min-h-11 font-semibold">
        {analysis.verdict} <Learnt marks={analysis.learnt} />
      </p>
      <dl className="mt-1 grid grid-cols-[1fr_auto] gap-x-3">
        {rows.map(([name, value, before, decimals]) => (
          <div key={name} className="contents">
            <dt className="text-muted">{name}</dt>
            <dd className={`text-right ${differs(value, before, decimals) ? "font-bold" : ""}`}>{figure(name, value, decimals, units)}</dd>
          </div>
        ))}
      </dl>
      {props.message && <p className="text-sm text-muted">{props.message}</p>}
    </div>
  );
}

function differs(value: number | null, before: number | null | undefined, decimals: number): boolean {
  return typeof before === "number" && value !== null && value.toFixed(decimals) !== before.toFixed(decimals);
}

function figure(name: string, value: number | null, decimals: number, units: Units): string {
  if (value === null) return "none";
  return name === "first ice" || name === "scoops at" ? units.temperature(value, decimals) : units.number(value, decimals);
}
