import { useInfiniteQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { CompositionBar } from "../../charts/composition-bar";
import { paint } from "../../charts/strata";
import { addressOf, type Schemas } from "../../shared/api/client";
import { useKitchen } from "../../shared/api/kitchen";
import { shelfQuery } from "../../shared/api/queries";
import { useVocabulary } from "../../shared/api/vocabulary";

import { Button, buttonClass } from "../../ui/button";
import { inputClass } from "../../ui/field";
import { StationHead } from "../../ui/frame";
import { Menu, MenuItem } from "../../ui/menu";
import { Waiting } from "../../ui/waiting";
import { Corrections } from "./correction";
import { CustomIngredientDialog } from "./custom-ingredient-dialog";
import { IngredientFile } from "./ingredient-file";
import { IngredientSheet } from "./ingredient-sheet";
import { InTheHouse } from "./lots/in-the-house";
import { Checkbox } from "../../ui/checkbox";
import { Select } from "../../ui/select";
import { useUnits } from "../../shared/format/units";

type Wanted = { find: string; brings: string; diet: string; own: boolean };

/** What is this stuff: found by name, by what it brings and by whom it suits, each as a drawing of 100 g of it. */
export function Shelf() {
  const [wanted, setWanted] = useState<Wanted>({ find: "", brings: "", diet: "", own: false });
  const [dialog, setDialog] = useState<"own" | "file" | null>(null);
  const found = useInfiniteQuery(shelfQuery(wanted));
  return (
    <>
      <StationHead title="Shelf">
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
        <Corrections />
        <InTheHouse />
        <SearchFields wanted={wanted} change={(changes) => setWanted({ ...wanted, ...changes })} total={found.data?.pages[0]?.total} />
        <Legend />
        <Waiting query={found}>
          {({ pages }) => <ShelfRows rows={pages.flatMap(({ items }) => items)} wanted={wanted.find} />}
        </Waiting>
        {found.hasNextPage && (
          <Button className="justify-self-center" onClick={() => void found.fetchNextPage()} disabled={found.isFetchingNextPage}>
            Show more
          </Button>
        )}
      </div>
      <CustomIngredientDialog open={dialog === "own"} onClose={() => setDialog(null)} />
      <IngredientFile open={dialog === "file"} onClose={() => setDialog(null)} />
    </>
  );
}

function ShelfRows({ rows, wanted }: { rows: Schemas["IngredientOut"][]; wanted: string }) {
  const { currency } = useKitchen();
  if (rows.length === 0) {
    return (
      <p className="panel p-5">
        Nothing on the shelf {wanted ? `is called “${wanted.slice(0, 60)}”` : "is like that"}. Try a shorter word, or put it there as your own.
      </p>
    );
  }
  return (
    <ul className="panel divide-y divide-line">
      {rows.map((ingredient) => (
        <ShelfRow key={ingredient.slug} ingredient={ingredient} currency={currency} />
      ))}
    </ul>
  );
}

function SearchFields({ wanted, change, total }: { wanted: Wanted; change: (changes: Partial<Wanted>) => void; total: number | undefined }) {
  const { strata, restrictions } = useVocabulary();
  const brings = [...strata].reverse().map(({ key, name }) => ({ key, name: `brings ${name.toLowerCase()}` }));
  return (
    <div className="flex flex-wrap items-center gap-3">
      <input
        type="search"
        aria-label="Find on the shelf"
        placeholder="Find: cream, nut, caster sugar…"
        value={wanted.find}
        maxLength={100}
        onChange={(event) => change({ find: event.target.value })}
        className={`${inputClass} max-w-72`}
      />
      <div className="w-48">
        <Select label="What it brings" hideLabel value={wanted.brings} options={[{ key: "", name: "bringing anything" }, ...brings]} onChange={(key) => change({ brings: key })} />
      </div>
      <div className="w-44">
        <Select label="Whom it suits" hideLabel value={wanted.diet} options={[{ key: "", name: "for everyone" }, ...restrictions]} onChange={(key) => change({ diet: key })} />
      </div>
      <Checkbox checked={wanted.own} onChange={(own) => change({ own })}>
        our own
      </Checkbox>
      <p role="status" className="ml-auto text-sm text-muted">
        {total === undefined ? "" : `${total} found`}
      </p>
    </div>
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
  const units = useUnits();
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
          <span className="hidden text-right text-sm text-muted md:block">sweetness {units.number(ingredient.sweetness_pod)}</span>
          <span className="hidden text-right text-sm text-muted md:block">freezing power {units.number(ingredient.freezing_power_pac)}</span>
        </summary>
        {open && <IngredientSheet slug={ingredient.slug} currency={currency} />}
      </details>
    </li>
  );
}
