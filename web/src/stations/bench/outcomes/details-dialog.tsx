import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";

import { answer, api, type Schemas } from "../../../shared/api/client";
import { useKitchen } from "../../../shared/api/kitchen";
import { useKitchenSettings } from "../../../shared/api/use-kitchen-settings";
import { useVocabulary } from "../../../shared/api/vocabulary";
import { readNumber } from "../../../shared/format/numbers";
import { Button } from "../../../ui/button";
import { inputClass } from "../../../ui/field";
import { SheetDialog } from "../../../ui/sheet-dialog";
import { Waiting } from "../../../ui/waiting";
import { Track } from "../../../ui/track";
import { Why } from "../../../ui/why";
import { useBenchActions, useReading } from "../bench-context";
import { bodyOf, type Draft, writtenOf } from "../draft/draft";
import { type Units, useUnits } from "../../../shared/format/units";

type Figure = Schemas["FigureOut"];

type Props = { draft: Draft };

/** The figures behind how it eats: each with its band and where it comes from, other schools, gums, and names. */
export function DetailsDialog(props: Props & { open: boolean; onClose: () => void }) {
  return (
    <SheetDialog open={props.open} onOpenChange={(open) => !open && props.onClose()} title="The figures behind it" explanation="Grams and kcal are those in 100 g of mix." wide>
      <LoadedDetails draft={props.draft} />
    </SheetDialog>
  );
}

function LoadedDetails({ draft }: Props) {
  const { analysis, freezer } = useReading();
  const { aims } = useKitchen();
  const body = { ...bodyOf(draft), freezer_c: freezer };
  const closer = useQuery({
    queryKey: ["analysis", "closer", writtenOf(draft), freezer, aims],
    queryFn: ({ signal }) => answer(api.POST("/details", { body, signal })),
    placeholderData: (before) => before,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  return (
    <Waiting query={closer}>
      {(found) =>
        found && (
          <div className="grid gap-5">
            <section aria-label="Figures">
              <ul>
                {found.figures.map((figure) => (
                  <FigureRow key={figure.key} figure={figure} draft={draft} />
                ))}
              </ul>
            </section>
            <Served found={found} places={analysis?.places ?? []} />
            <Gums found={found} />
            <Names names={found.names} />
          </div>
        )
      }
    </Waiting>
  );
}

function FigureRow({ figure, draft }: Props & { figure: Figure }) {
  const units = useUnits();
  const { aims } = useKitchen();
  const [opened, setOpened] = useState<"why" | "aim" | null>(null);
  const toggle = (part: "why" | "aim") => setOpened(opened === part ? null : part);
  const { band, scale, value } = figure;
  const out = band !== null && (value < band[0]! - 0.05 || value > band[1]! + 0.05);
  return (
    <li className="border-b border-line py-1">
      <div className="grid grid-cols-[minmax(0,1fr)_6rem_6.5rem] items-center gap-x-3 sm:grid-cols-[10rem_6rem_minmax(4rem,1fr)_11.5rem_6.5rem]">
        <b>{figure.name}</b>
        <span className="grid grid-cols-[3.25rem_2.5rem] items-baseline gap-1">
          <span className={`text-right font-semibold ${out ? "text-hot" : ""}`}>{units.amount(value, figure.unit, figure.digits)}</span>
          <span className="text-sm text-muted">{units.unit(figure.unit).split(" ")[0]}</span>
        </span>
        <Track
          className="max-sm:hidden"
          range={[scale[0]!, scale[1]!]}
          band={band && [band[0]!, band[1]!]}
          needles={[{ at: value, colour: out ? "var(--hot)" : "var(--needle)" }]}
        />
        <span className="col-span-3 row-start-2 text-sm text-muted sm:col-span-1 sm:col-start-4 sm:row-start-1">
          {band ? `${sourceOf(figure, draft, aims)} ${rangeOf(band, units)}` : figure.note}
        </span>
        <span className="flex justify-end gap-3 text-sm sm:col-start-5">
          {figure.aim && (
            <button type="button" className="underline" aria-expanded={opened === "aim"} aria-label={`set aim of ${figure.name}`} onClick={() => toggle("aim")}>
              set aim
            </button>
          )}
          <button type="button" className="underline" aria-expanded={opened === "why"} aria-label={`why ${figure.name}`} onClick={() => toggle("why")}>
            why
          </button>
        </span>
      </div>
      {opened === "why" && (
        <p className="pt-1 text-sm text-muted">
          {units.unit(figure.unit)}, {figure.note}: {figure.formula}. Source: {figure.source}. Function <code>{figure.rule}</code>.
        </p>
      )}
      {opened === "aim" && <AimForm figure={figure} draft={draft} done={() => setOpened(null)} />}
    </li>
  );
}

function sourceOf(figure: Figure, draft: Draft, aims: Schemas["KitchenOut"]["aims"]): string {
  if (draft.aims[figure.key]) return "aim";
  return aims[draft.style ?? ""]?.[figure.key] ? "our aim" : "usual";
}

function rangeOf(band: number[], units: Units): string {
  const [low = 0, high = 0] = band;
  const digits = [low, high].every(Number.isInteger) ? 0 : 1;
  return low === high ? units.number(low, digits) : `${units.number(low, digits)}–${units.number(high, digits)}`;
}

/** A band for one figure: of this mix alone, or of everything of its style in this kitchen. */
function AimForm({ figure, draft, done }: Props & { figure: Figure; done: () => void }) {
  const { edit } = useBenchActions();
  const { aims } = useKitchen();
  const client = useQueryClient();
  const { styles } = useVocabulary();
  const id = useId();
  const [low, setLow] = useState(figure.band ? String(figure.band[0]) : "");
  const [high, setHigh] = useState(figure.band ? String(figure.band[1]) : "");
  const band = [readNumber(low), readNumber(high)];
  const style = styles.find(({ key }) => key === draft.style);
  const wrong = bandError(band);
  const ours = aims[draft.style ?? ""] ?? {};
  const settings = useKitchenSettings(async () => {
    await client.invalidateQueries({ queryKey: ["analysis"] });
    done();
  });
  const keep = (band: number[] | null) => settings.mutate({ aims: { [draft.style ?? ""]: { [figure.key]: band } } });

  function usual() {
    edit({ kind: "aim", of: figure.key, band: null });
    if (ours[figure.key]) keep(null);
    else done();
  }

  return (
    <div className="flex flex-wrap items-center gap-2 py-1.5">
      <label htmlFor={`${id}low`}>from</label>
      <input id={`${id}low`} className={`${inputClass} !w-20`} inputMode="decimal" maxLength={8} value={low} onChange={(event) => setLow(event.target.value)} />
      <label htmlFor={`${id}high`}>to</label>
      <input id={`${id}high`} className={`${inputClass} !w-20`} inputMode="decimal" maxLength={8} value={high} onChange={(event) => setHigh(event.target.value)} />
      <Button
        disabled={wrong !== null}
        onClick={() => {
          edit({ kind: "aim", of: figure.key, band: band as number[] });
          done();
        }}
      >
        For this mix
      </Button>
      {style && (
        <Button disabled={wrong !== null || settings.isPending} onClick={() => keep(band as number[])}>
          For every {style.name} here
        </Button>
      )}
      <Button kind="quiet" onClick={usual}>
        As usual
      </Button>
      <p role="status" className="basis-full text-sm text-hot">
        {settings.error?.message ?? (low !== "" || high !== "" ? wrong : null)}
      </p>
    </div>
  );
}

function bandError([low, high]: (number | null)[]): string | null {
  if (low === null || low === undefined || high === null || high === undefined) return "An aim is two numbers, the least and the most.";
  return low > high ? "The least is above the most: turn the two round." : null;
}

/** How it stands where it is kept and served, and what the adding-up school says of the same mix. */
function Served({ found, places }: { found: Schemas["Details"]; places: Schemas["PlaceOut"][] }) {
  const units = useUnits();
  return (
    <section aria-labelledby="served">
      <h3 id="served">
        Kept and served <Why of="cabinet" />
      </h3>
      <ul>
        {places.map((place) => (
          <li key={place.key}>
            {place.name}, {units.setting(place.t_c)}: <b>{place.word}</b>, {units.number(place.frozen_pct)}&nbsp;% of its water is ice.
          </li>
        ))}
      </ul>
      <p className="pt-2">The adding-up school reads the serving temperature off a sum, freezing power per kg. What it counts differs:</p>
      <ul>
        {found.sums.map((sum) => (
          <li key={sum.counted}>
            {sum.counted}: <b>{sum.message}</b>.
          </li>
        ))}
      </ul>
      <p className="text-sm text-muted">
        Its bands are those of dairy gelato; for sorbet it uses others. Syrups counted as dextrose promise a softer tub than they give. The curve counts every sugar by itself.
      </p>
    </section>
  );
}

function Gums({ found }: { found: Schemas["Details"] }) {
  const units = useUnits();
  if (found.gums.length === 0) return null;
  return (
    <section aria-labelledby="gums-closer">
      <h3 id="gums-closer">
        Gums, starches, emulsifiers <Why of="gum_dose" />
      </h3>
      <p>
        {units.number(found.gum_total_pct, 2)} % gum in the mix, {units.number(found.gum_in_water_pct, 2)} % of its water; 0.1 to 0.5 % of the mix is usual.
      </p>
      <ul className="grid gap-1">
        {found.gums.map((gum) => (
          <li key={gum.line}>
            <b>{gum.name}</b>, {units.number(gum.dose_pct, 2)} % of the mix, {units.number(gum.in_water_pct, 2)} % of its water.{" "}
            <span className={gum.word !== "within" || gum.works === false || !gum.weighable ? "" : "text-muted"}>{gum.advice.join(" ")}</span>
          </li>
        ))}
        {found.gum_pairs.map((pair) => (
          <li key={pair}>{pair}</li>
        ))}
      </ul>
    </section>
  );
}

/** What the law of some places would call the mix, by its figures. */
function Names({ names }: { names: Schemas["NameOut"][] }) {
  if (names.length === 0) return null;
  return (
    <section aria-labelledby="names-closer">
      <h3 id="names-closer">
        What it may be called <Why of="names" />
      </h3>
      <ul>
        {names.map((name) => (
          <li key={name.region + name.name} className={name.fits ? "" : "text-muted"}>
            {name.region}: {name.fits ? <b>{name.name}</b> : <>not {name.name}</>} ({name.because})
          </li>
        ))}
      </ul>
      <p className="text-sm text-muted">Guidance by its figures only, 2026; ask your local authority.</p>
    </section>
  );
}
