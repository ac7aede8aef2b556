import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, ifMatch, type Schemas } from "../../shared/api/client";
import { ingredientQuery, lotsQuery, priceEffectsQuery, pricesQuery, shelfChanged, versionsQuery } from "../../shared/api/queries";
import { listed, readNumber } from "../../shared/format/numbers";
import { Button } from "../../ui/button";
import { changed } from "../../ui/changed";
import { Field } from "../../ui/field";
import { SheetDialog } from "../../ui/sheet-dialog";
import { Learnt } from "../../ui/learnt";
import { Waiting } from "../../ui/waiting";
import { Facts } from "../bench/lines/line-dialog";
import { AllergenFields } from "./allergen-fields";
import { Correction } from "./correction";
import { ReceiveDialog } from "./lots/receive-dialog";
import { untilSaid } from "./lots/until";
import { useSeesPrices } from "../../shared/use-sees-prices";
import { MovedMixes } from "./lots/price-moves";
import { Uses } from "./uses";
import { WeighPieces } from "./weigh-pieces";
import { useDebouncedValue } from "../../shared/use-debounced-value";
import { type Units, useUnits } from "../../shared/format/units";

/** All that is known of one ingredient, and what a kitchen can say of it. */
export function IngredientSheet({ slug, currency }: { slug: string; currency: string }) {
  const ingredient = useQuery(ingredientQuery(slug));
  return <Waiting query={ingredient}>{(known) => <Sheet ingredient={known} currency={currency} />}</Waiting>;
}

function Sheet({ ingredient, currency }: { ingredient: Schemas["IngredientDetail"]; currency: string }) {
  const units = useUnits();
  const seesPrices = useSeesPrices();
  const { if_heated, if_not_heated } = ingredient.facts as { if_heated?: string; if_not_heated?: string };
  const [dialog, setDialog] = useState<"change" | "lot" | "pieces" | "versions" | "shelf" | "uses" | null>(null);
  return (
    <div className="grid gap-4 pb-4 md:grid-cols-[1fr_1fr]">
      {ingredient.offered && <Correction ingredient={ingredient} className="md:col-span-2" />}
      <div className="grid content-start gap-2">
        <Facts ingredient={ingredient} cautions={[if_heated, if_not_heated]} />
        <p className="flex flex-wrap items-baseline gap-x-2">
          {measuresSentence(ingredient, units)}
          <Learnt marks={ingredient.learnt} />
        </p>
        <p>
          {units.number(ingredient.energy_kcal)} kcal per 100 g. {seesPrices && priceSentence(ingredient, currency, units)}
        </p>
        <p>
          {ingredient.allergens.length > 0 ? `Contains ${listed(ingredient.allergens)}.` : "None of the allergens that labels name."}
          {ingredient.may_hold.length > 0 ? ` May hold ${listed(ingredient.may_hold, "or")}.` : ""}
          {ingredient.allergens_stated ? "" : " Other allergens are not stated."} Check the label of what you buy.
        </p>
        {ingredient.suits.length > 0 && <p className="text-muted">Suits: {ingredient.suits.join(", ")}.</p>}
        {ingredient.confused_with.map((other) => (
          <p key={other.key} className="border-l-3 border-hot pl-2">
            Not {other.name}? {other.differ}
          </p>
        ))}
        <Season ingredient={ingredient} />
        <Here slug={ingredient.slug} />
        <div className="flex flex-wrap gap-2 pt-1">
          <Button onClick={() => setDialog("change")}>{seesPrices ? "Price, names, weights…" : "Names, weights…"}</Button>
          <Button onClick={() => setDialog("lot")}>Take in…</Button>
          {Object.keys(ingredient.pieces).length > 0 && <Button onClick={() => setDialog("pieces")}>Weigh some…</Button>}
          {!ingredient.offered && ingredient.shelf_says.length > 0 && <Button onClick={() => setDialog("shelf")}>What the shelf says…</Button>}
          {ingredient.version > 1 && <Button onClick={() => setDialog("versions")}>Earlier versions…</Button>}
          <Button onClick={() => setDialog("uses")}>{ingredient.used_in === 0 ? "Where it is used…" : `Used in ${ingredient.used_in} ${ingredient.used_in === 1 ? "mix" : "mixes"}…`}</Button>
        </div>
      </div>
      <ul className="grid content-start gap-y-0.5" aria-label="What is in 100 g">
        {ingredient.components.map((part) => (
          <li key={part.key} className="flex justify-between border-b border-line">
            <span>{part.name}</span>
            <span className="font-semibold">{units.number(part.grams, part.grams < 10 ? 2 : 1)}&nbsp;g</span>
          </li>
        ))}
      </ul>
      <SheetDialog open={dialog === "change"} onOpenChange={(open) => !open && setDialog(null)} title={ingredient.name}>
        <ChangeForm ingredient={ingredient} currency={currency} done={() => setDialog(null)} />
      </SheetDialog>
      <SheetDialog open={dialog === "pieces"} onOpenChange={(open) => !open && setDialog(null)} title={`Weigh some ${ingredient.name.toLocaleLowerCase()}`} explanation="Weigh a few together: mixes that count them go by what yours weigh from then on. What was kept stays as it was.">
        <WeighPieces ingredient={ingredient} done={() => setDialog(null)} />
      </SheetDialog>
      {dialog === "lot" && <ReceiveDialog ingredient={ingredient} onClose={() => setDialog(null)} />}
      <SheetDialog open={dialog === "shelf"} onOpenChange={(open) => !open && setDialog(null)} title={`${ingredient.name} on the shelf that ships`}>
        <Correction ingredient={ingredient} />
      </SheetDialog>
      <SheetDialog open={dialog === "uses"} onOpenChange={(open) => !open && setDialog(null)} title={`Where ${ingredient.name} is used`}>
        <Uses ingredient={ingredient} done={() => setDialog(null)} />
      </SheetDialog>
      <SheetDialog open={dialog === "versions"} onOpenChange={(open) => !open && setDialog(null)} title={`${ingredient.name} before`}>
        <Versions slug={ingredient.slug} />
      </SheetDialog>
    </div>
  );
}

/** When it is in season, where it is a thing of a season. */
function Season({ ingredient }: { ingredient: Schemas["IngredientDetail"] }) {
  const { months } = ingredient.facts as { months?: number[] };
  const [first, last] = [months?.[0], months?.at(-1)];
  if (!months || first === undefined || last === undefined) return null;
  const now = months.includes(new Date().getMonth() + 1) ? ", so now" : "";
  return (
    <p>
      In season {first === last ? `in ${monthName(first)}` : `from ${monthName(first)} to ${monthName(last)}`}
      {now} <span className="text-muted">(temperate north)</span>.
    </p>
  );
}

function monthName(month: number): string {
  return new Date(2026, month - 1).toLocaleDateString("en-GB", { month: "long" });
}

/** What there is of it, lot by lot. */
function Here({ slug }: { slug: string }) {
  const units = useUnits();
  const lots = useQuery(lotsQuery);
  const here = (lots.data ?? []).filter((lot) => lot.ingredient === slug);
  if (here.length === 0) return null;
  return <p>In the house: {here.map((lot) => [units.mass(lot.grams), lot.code && `lot ${lot.code}`, untilSaid(lot, units)].filter(Boolean).join(", ")).join("; ")}.</p>;
}

function measuresSentence(ingredient: Schemas["IngredientDetail"], units: Units): string {
  const density = ingredient.density_kg_l === null ? "By weight only" : `${units.number(ingredient.density_kg_l, 2)} kg/L`;
  const pieces = Object.entries(ingredient.pieces).map(([piece, weight]) => `one ${piece} ${units.mass(weight)}`);
  const brix = ingredient.brix > 3 && isWet(ingredient) ? [`about ${units.number(ingredient.brix)} °Brix`] : [];
  const trim = (ingredient.facts as { trim_pct?: number }).trim_pct;
  const lost = trim ? [`${units.number(trim)} % of what is bought is lost`] : [];
  return `${[density, ...pieces, ...brix, ...lost].join("; ")}.`;
}

/** Whether it flows or is juicy, so that a refractometer has something to read. */
function isWet({ components }: Schemas["IngredientDetail"]): boolean {
  return (components.find(({ key }) => key === "water")?.grams ?? 0) >= 15;
}

function priceSentence(ingredient: Schemas["IngredientDetail"], currency: string, units: Units): string {
  const pack = (ingredient.facts as { pack_g?: number }).pack_g;
  if (ingredient.price === null) return pack ? `Usually a pack of ${units.mass(pack)}; no price yet.` : "No price yet.";
  const of = pack ? `${units.number(ingredient.price, 2)} ${currency} for ${units.mass(pack)}` : `${units.number(ingredient.price, 2)} ${currency} a pack of unknown weight`;
  return ingredient.price_per_kg === null ? `${of}.` : `${of}: ${units.number(ingredient.price_per_kg, 2)} ${currency} a kilo.`;
}

function ChangeForm({ ingredient, currency, done }: { ingredient: Schemas["IngredientDetail"]; currency: string; done: () => void }) {
  const units = useUnits();
  const seesPrices = useSeesPrices();
  const client = useQueryClient();
  const facts = ingredient.facts as { pack_g?: number; strength_g_kg?: number[] };
  const ladder = facts.strength_g_kg?.map(String) ?? ["", ""];
  const [weak = "", setWeak] = useState(ladder[0]);
  const [strong = "", setStrong] = useState(ladder[1]);
  const [name, setName] = useState(ingredient.name);
  const [also, setAlso] = useState(ingredient.also.join(", "));
  const [price, setPrice] = useState(ingredient.price === null ? "" : String(ingredient.price));
  const [supplier, setSupplier] = useState("");
  const [pack, setPack] = useState(facts.pack_g ? String(facts.pack_g) : "");
  const [density, setDensity] = useState(ingredient.density_kg_l === null ? "" : units.number(ingredient.density_kg_l, 3));
  const [stated, setStated] = useState(ingredient.allergens_stated ? ingredient.allergens : null);
  const [mayHold, setMayHold] = useState(ingredient.may_hold);
  const change = useMutation({
    mutationFn: () =>
      answer(
        api.PATCH("/ingredients/{slug}", {
          params: { path: { slug: ingredient.slug } },
          body: {
            ...changed(
              { name, also: also.split(",").map((other) => other.trim()).filter(Boolean), price: readNumber(price), pack_g: readNumber(pack), allergens: stated, may_hold: mayHold },
              { ...ingredient, pack_g: facts.pack_g ?? null, allergens: ingredient.allergens_stated ? ingredient.allergens : null },
            ),
            ...(density === (ingredient.density_kg_l === null ? "" : units.number(ingredient.density_kg_l, 3)) ? {} : { density_kg_l: readNumber(density) }),
            ...(weak === ladder[0] && strong === ladder[1] ? {} : { strength_g_kg: ladderOf(weak, strong) }),
            supplier,
            why: "",
          },
          ...ifMatch(ingredient.version),
        }),
      ),
    onSuccess: async () => {
      await shelfChanged(client);
      done();
    },
  });
  const wrong = [price, pack, density, weak, strong].some((typed) => typed.trim() !== "" && readNumber(typed) === null);
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        change.mutate();
      }}
    >
      {!ingredient.made_from && <Field label="Name" value={name} required maxLength={200} onChange={(event) => setName(event.target.value)} />}
      <Field label="Also called, with commas between" value={also} maxLength={1000} onChange={(event) => setAlso(event.target.value)} />
      {!ingredient.made_from && (
        <div className="grid grid-cols-2 gap-3">
          {seesPrices && <Field label={`Price, ${currency}`} value={price} inputMode="decimal" maxLength={10} onChange={(event) => setPrice(event.target.value)} />}
          <Field label={seesPrices ? "for a pack of g" : "Pack of g"} value={pack} inputMode="decimal" maxLength={10} onChange={(event) => setPack(event.target.value)} />
          {seesPrices && <Field label="asked by" value={supplier} maxLength={80} onChange={(event) => setSupplier(event.target.value)} />}
          <Field label="kg/L in a spoon" value={density} inputMode="decimal" maxLength={8} onChange={(event) => setDensity(event.target.value)} />
        </div>
      )}
      {!ingredient.made_from && (
        <div className="grid grid-cols-2 gap-3">
          <Field label="Weakest dose, g per kg of mix" value={weak} inputMode="decimal" maxLength={8} onChange={(event) => setWeak(event.target.value)} />
          <Field label="Strongest dose" value={strong} inputMode="decimal" maxLength={8} onChange={(event) => setStrong(event.target.value)} />
        </div>
      )}
      {seesPrices && !ingredient.made_from && <PriceEffects slug={ingredient.slug} before={ingredient.price_per_kg} price={readNumber(price)} pack={readNumber(pack)} />}
      <AllergenFields known={ingredient.allergens} stated={stated} mayHold={mayHold} change={(next) => { setStated(next.stated); setMayHold(next.mayHold); }} />
      {(change.error ?? wrong) && (
        <p role="alert" className="text-hot">
          {change.error?.message ?? "A price, pack, density or dose is not a number. Write one like 2,40."}
        </p>
      )}
      <Button type="submit" kind="dark" disabled={change.isPending || wrong}>
        Keep this
      </Button>
    </form>
  );
}

/** The prices it has had, and what the one that is being typed does to the mixes. */
function PriceEffects({ slug, before, price, pack }: { slug: string; before: number | null; price: number | null; pack: number | null }) {
  const units = useUnits();
  const prices = useQuery(pricesQuery(slug));
  const perKg = useDebouncedValue(price !== null && pack ? Math.round((1e7 * price) / pack) / 1e4 : null);
  const moved = perKg !== null && (before === null || Math.abs(perKg - before) > 0.005);
  const effects = useQuery({ ...priceEffectsQuery(slug, perKg ?? 0), enabled: moved });
  const earlier = (prices.data ?? []).map((one) => `${units.number(one.price ?? 0, 2)} for ${units.mass(one.pack_g)}${one.supplier ? ` from ${one.supplier}` : ""}, ${units.day(one.since)}`);
  return (
    <>
      {earlier.length > 0 && <p className="text-sm text-muted">Prices so far: {earlier.join("; ")}.</p>}
      {moved && effects.data && <MovedMixes effects={effects.data} />}
    </>
  );
}

/** The weakest and strongest dose of a flavouring; none where neither is typed, and what was typed where they do not fit. */
function ladderOf(weak: string, strong: string): number[] | null {
  if (weak.trim() === "" && strong.trim() === "") return null;
  return [readNumber(weak) ?? 0, readNumber(strong) ?? 0];
}

function Versions({ slug }: { slug: string }) {
  const units = useUnits();
  const versions = useQuery(versionsQuery(slug));
  return (
    <Waiting query={versions}>
      {(rows) => (
        <ol className="grid gap-3">
          {rows.map((version) => (
            <li key={version.number} className="border-t border-line pt-2">
              <b>{version.name}</b>, until {units.day(version.changed_at)}
              {version.why && <span className="text-muted">: {version.why}</span>}
              <span className="block text-sm text-muted">
                {version.components.map((part) => `${part.name.toLowerCase()} ${units.number(part.grams, part.grams < 10 ? 1 : 0)}`).join(", ")}
              </span>
            </li>
          ))}
        </ol>
      )}
    </Waiting>
  );
}
