import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { CompositionBar } from "../../charts/composition-bar";
import { paint } from "../../charts/strata";
import { addressOf, type Schemas } from "../../shared/api/client";
import { useKitchen } from "../../shared/api/kitchen";
import { searchQuery } from "../../shared/api/queries";
import { useVocabulary } from "../../shared/api/vocabulary";
import { shown } from "../../shared/format/numbers";
import { Button, buttonClass } from "../../ui/button";
import { Choice, inputClass } from "../../ui/field";
import { StationHead } from "../../ui/frame";
import { Menu, MenuItem } from "../../ui/menu";
import { Waiting } from "../../ui/waiting";
import { CustomIngredientDialog } from "./custom-ingredient-dialog";
import { IngredientFile } from "./ingredient-file";
import { IngredientSheet } from "./ingredient-sheet";
import { KitchenDialog } from "./kitchen/kitchen-dialog";
import { InTheHouse } from "./stock";

const PAGE = 50;
const MOST = 100;

/** What is this stuff: found by name, by what it brings and by whom it suits, each as a drawing of 100 g of it. */
export function Shelf() {
  const kitchen = useKitchen();
  const { strata, restrictions } = useVocabulary();
  const [wanted, setWanted] = useState("");
  const [brings, setBrings] = useState("");
  const [diet, setDiet] = useState("");
  const [own, setOwn] = useState(false);
  const [limit, setLimit] = useState(PAGE);
  const [dialog, setDialog] = useState<"own" | "file" | "kitchen" | null>(null);
  const found = useQuery(searchQuery({ find: wanted, brings, diet, own, limit }));

  function look(change: () => void) {
    change();
    setLimit(PAGE);
  }

  return (
    <>
      <StationHead title="Shelf">
        <Button kind="quiet" onClick={() => setDialog("kitchen")}>
          This kitchen
        </Button>
        <Menu label="Files of ingredients" trigger={<span>Files</span>} plain>
          <MenuItem onSelect={() => setDialog("file")}>Import ingredients…</MenuItem>
          <MenuItem onSelect={() => window.location.assign(addressOf("/ingredients.csv"))}>Take all out as CSV</MenuItem>
          <MenuItem onSelect={() => window.location.assign(addressOf("/ingredients.json"))}>Take all out as JSON</MenuItem>
        </Menu>
        <Link to="/shelf/preparations" className={buttonClass()}>
          New preparation
        </Link>
        <Button kind="hot" onClick={() => setDialog("own")}>
          Own ingredient
        </Button>
      </StationHead>
      <div className="grid gap-3 px-4 pb-6">
        <InTheHouse />
        <div className="flex flex-wrap items-center gap-3">
          <input
            type="search"
            aria-label="Find on the shelf"
            placeholder="Find: cream, nut, caster sugar…"
            value={wanted}
            maxLength={100}
            onChange={(event) => look(() => setWanted(event.target.value))}
            className={`${inputClass} max-w-72`}
          />
          <div className="w-44">
            <Choice
              label="What it brings"
              hideLabel
              value={brings}
              options={[{ key: "", name: "bringing anything" }, ...[...strata].reverse().map(({ key, name }) => ({ key, name: `brings ${name.toLowerCase()}` }))]}
              onChange={(event) => look(() => setBrings(event.target.value))}
            />
          </div>
          <div className="w-44">
            <Choice
              label="Whom it suits"
              hideLabel
              value={diet}
              options={[{ key: "", name: "for everyone" }, ...restrictions]}
              onChange={(event) => look(() => setDiet(event.target.value))}
            />
          </div>
          <label className="flex items-center gap-1.5">
            <input type="checkbox" checked={own} onChange={(event) => look(() => setOwn(event.target.checked))} />
            our own
          </label>
          <p role="status" className="ml-auto text-sm text-muted">
            {found.data ? `${found.data.total} found` : ""}
          </p>
        </div>
        <Legend />
        <Waiting query={found}>
          {({ total, items: ingredients }) => (
            <>
              {total === 0 && (
                <p className="panel p-5">
                  Nothing on the shelf {wanted ? `is called “${wanted.slice(0, 60)}”` : "is like that"}. Try a shorter word, or put it there as your own.
                </p>
              )}
              <ul className="panel divide-y divide-line">
                {ingredients.map((ingredient) => (
                  <ShelfRow key={ingredient.slug} ingredient={ingredient} currency={kitchen.currency} />
                ))}
              </ul>
              {total > ingredients.length && (
                <Button className="justify-self-center" onClick={() => setLimit(Math.min(limit + PAGE, MOST))} disabled={limit >= MOST}>
                  {limit >= MOST ? `${total - ingredients.length} more: narrow the search` : "Show more"}
                </Button>
              )}
            </>
          )}
        </Waiting>
      </div>
      <CustomIngredientDialog open={dialog === "own"} onClose={() => setDialog(null)} />
      <IngredientFile open={dialog === "file"} onClose={() => setDialog(null)} />
      <KitchenDialog open={dialog === "kitchen"} onClose={() => setDialog(null)} />
    </>
  );
}

function Legend() {
  const { strata } = useVocabulary();
  return (
    <ul className="flex flex-wrap gap-x-4 gap-y-1 text-sm text-muted" aria-label="Colours">
      {[...strata].reverse().map((stratum) => (
        <li key={stratum.key} className="flex items-center gap-1.5">
          <span className="size-3 rounded-sm" style={{ background: paint(stratum.key) }} />
          {stratum.name}
        </li>
      ))}
    </ul>
  );
}

function ShelfRow({ ingredient, currency }: { ingredient: Schemas["IngredientOut"]; currency: string }) {
  const [open, setOpen] = useState(false);
  return (
    <li>
      <details className="group px-4" onToggle={(event) => setOpen(event.currentTarget.open)}>
        <summary className="grid list-none grid-cols-[minmax(9rem,16rem)_1fr] items-center gap-x-5 gap-y-1 py-2 md:grid-cols-[16rem_1fr_7.5rem_8.5rem]">
          <span className="min-w-0">
            <span className="font-semibold">{ingredient.name}</span>
            <span className="block truncate text-sm text-muted">
              {[ingredient.own ? "our own" : "", ...ingredient.also].filter(Boolean).join(", ")}
            </span>
          </span>
          <CompositionBar parts={ingredient.strata} most={100} water of={ingredient.name} />
          <span className="hidden text-right text-sm text-muted md:block">sweetness {shown(ingredient.sweetness_pod)}</span>
          <span className="hidden text-right text-sm text-muted md:block">freezing power {shown(ingredient.freezing_power_pac)}</span>
        </summary>
        {open && <IngredientSheet slug={ingredient.slug} currency={currency} />}
      </details>
    </li>
  );
}
