import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, type Schemas } from "../../api/client";
import { ingredientsQuery, meQuery, useVocabulary } from "../../api/queries";
import { CompositionBar } from "../../charts/composition-bar";
import { paint } from "../../charts/strata";
import { StationHead } from "../../ui/frame";
import { Choice, inputClass } from "../../ui/field";
import { shown } from "../../ui/numbers";
import { Waiting } from "../../ui/waiting";
import { found } from "./find";

/** What is this stuff: every ingredient as a drawing of 100 g of it. */
export function Shelf({ me }: { me: Schemas["Me"] }) {
  const ingredients = useQuery(ingredientsQuery);
  const [wanted, setWanted] = useState("");
  return (
    <>
      <StationHead title="Shelf">
        <SpoonsChoice spoons={me.spoons} />
        <input
          type="search"
          aria-label="Find on the shelf"
          placeholder="Find: cream, nut, sugar…"
          value={wanted}
          maxLength={100}
          onChange={(event) => setWanted(event.target.value)}
          className={`${inputClass} max-w-72`}
        />
      </StationHead>
      <Waiting query={ingredients}>
        {(all) => {
          const matches = found(all, wanted);
          return (
            <div className="px-4 pb-6">
              <Legend />
              <p role="status" className="sr-only">
                {matches.length} found
              </p>
              {matches.length === 0 && <p className="panel p-5">Nothing on the shelf is called “{wanted.slice(0, 60)}”. Try a shorter word.</p>}
              <ul className="panel divide-y divide-line">
                {matches.map((ingredient) => (
                  <ShelfRow key={ingredient.slug} ingredient={ingredient} />
                ))}
              </ul>
            </div>
          );
        }}
      </Waiting>
    </>
  );
}

type Spoons = Schemas["Me"]["spoons"];

const SPOONS: { key: Spoons; name: string }[] = [
  { key: "metric", name: "metric cups and spoons" },
  { key: "us", name: "US cups and spoons" },
  { key: "imperial", name: "imperial cups and spoons" },
];

function SpoonsChoice({ spoons }: { spoons: Spoons }) {
  const client = useQueryClient();
  const choose = useMutation({
    mutationFn: (chosen: Spoons) => answer(api.PATCH("/api/kitchen", { body: { spoons: chosen } })),
    onSuccess: (now) => {
      client.setQueryData(meQuery.queryKey, now);
      client.removeQueries({ queryKey: ["analysis"] });
    },
  });
  return (
    <Choice
      label="Cups and spoons of this kitchen"
      hideLabel
      value={spoons}
      options={SPOONS}
      onChange={(event) => choose.mutate(event.target.value as Spoons)}
    />
  );
}

function Legend() {
  const { strata } = useVocabulary();
  return (
    <ul className="flex flex-wrap gap-x-4 gap-y-1 pb-3 text-sm text-muted" aria-label="Colours">
      {[...strata].reverse().map((stratum) => (
        <li key={stratum.key} className="flex items-center gap-1.5">
          <span className="size-3 rounded-sm" style={{ background: paint(stratum.key) }} />
          {stratum.name}
        </li>
      ))}
    </ul>
  );
}

function measuresSentence(ingredient: Schemas["IngredientOut"]): string {
  const density = ingredient.density_kg_l === null ? "By weight only" : `${shown(ingredient.density_kg_l, 2)} kg/L`;
  const pieces = Object.entries(ingredient.pieces).map(([piece, weight]) => `one ${piece} ${shown(weight, weight < 10 ? 1 : 0)} g`);
  return `${[density, ...pieces].join("; ")}.`;
}

function ShelfRow({ ingredient }: { ingredient: Schemas["IngredientOut"] }) {
  return (
    <li>
      <details className="group px-4">
        <summary className="grid list-none grid-cols-[minmax(9rem,16rem)_1fr] items-center gap-x-5 gap-y-1 py-2 md:grid-cols-[16rem_1fr_7.5rem_8.5rem]">
          <span>
            <span className="font-semibold">{ingredient.name}</span>
            {ingredient.also.length > 0 && <span className="block truncate text-sm text-muted">{ingredient.also.join(", ")}</span>}
          </span>
          <CompositionBar parts={ingredient.strata} most={100} water of={ingredient.name} />
          <span className="hidden text-right text-sm text-muted md:block">sweetness {shown(ingredient.sweetness_pod)}</span>
          <span className="hidden text-right text-sm text-muted md:block">freezing power {shown(ingredient.freezing_power_pac)}</span>
        </summary>
        <div className="grid gap-4 pb-4 md:grid-cols-[16rem_1fr]">
          <p className="text-muted">
            What is in 100 g. Basis: {ingredient.basis}.
            <span className="mt-1 block">
              Sweetness {shown(ingredient.sweetness_pod)} (POD) and freezing power {shown(ingredient.freezing_power_pac)} (PAC), where table
              sugar is 100.
            </span>
            <span className="mt-1 block">{measuresSentence(ingredient)}</span>
            <span className="mt-1 block">
              {ingredient.allergens.length > 0 ? `Has ${ingredient.allergens.join(", ")}.` : ""}
              {ingredient.allergens_stated ? "" : " Other allergens are not stated."} Check the label of what you buy.
            </span>
          </p>
          <ul className="grid content-start gap-x-8 gap-y-0.5 sm:grid-cols-2">
            {ingredient.components.map((part) => (
              <li key={part.key} className="flex justify-between border-b border-line">
                <span>{part.name}</span>
                <span className="font-semibold">{shown(part.grams, part.grams < 10 ? 2 : 1)} g</span>
              </li>
            ))}
          </ul>
        </div>
      </details>
    </li>
  );
}
