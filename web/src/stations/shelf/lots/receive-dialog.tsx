import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, faultAt, once, type Schemas } from "../../../shared/api/client";
import { useKitchen } from "../../../shared/api/kitchen";
import { ingredientQuery, shelfChanged } from "../../../shared/api/queries";
import { readNumber } from "../../../shared/format/numbers";
import { useUnits } from "../../../shared/format/units";
import { Button } from "../../../ui/button";
import { FaultOfAll, Field } from "../../../ui/field";
import { Select } from "../../../ui/select";
import { SheetDialog } from "../../../ui/sheet-dialog";
import { type Picked, PickIngredient } from "../pick-ingredient";
import { MadeOf } from "./made-of";
import { PriceMoves } from "./price-moves";

type Typed = Record<"amount" | "supplier" | "origin" | "code" | "useBy" | "bestBefore" | "price" | "celsius" | "brix" | "state" | "note", string>;

const NOTHING: Typed = { amount: "", supplier: "", origin: "", code: "", useBy: "", bestBefore: "", price: "", celsius: "", brix: "", state: "", note: "" };

/** Take one thing in: how much, from whom, which lot, until when; then what its price does to the mixes. */
export function ReceiveDialog({ ingredient, onClose }: { ingredient?: Picked; onClose: () => void }) {
  const [picked, setPicked] = useState<Picked | null>(ingredient ?? null);
  const [came, setCame] = useState<Schemas["LotDetail"] | null>(null);
  const title = came ? `${came.name} is in the house` : ingredient ? `${ingredient.name}: take in` : "Take in";
  return (
    <SheetDialog open onOpenChange={(open) => !open && onClose()} title={title} wide>
      {came?.ingredient ? (
        <PriceMoves lot={came} slug={came.ingredient} done={onClose} />
      ) : (
        <div className="grid gap-3">
          {!ingredient && <PickIngredient label="What came" picked={picked} pick={setPicked} />}
          {picked && <LotForm key={picked.slug} picked={picked} received={(lot) => (lot.price === null ? onClose() : setCame(lot))} />}
        </div>
      )}
    </SheetDialog>
  );
}

function LotForm({ picked, received }: { picked: Picked; received: (lot: Schemas["LotDetail"]) => void }) {
  const client = useQueryClient();
  const units = useUnits();
  const { currency } = useKitchen();
  const known = useQuery(ingredientQuery(picked.slug));
  const [typed, setTyped] = useState(NOTHING);
  const [madeOf, setMadeOf] = useState<Schemas["LotShare"][]>([]);
  const [key] = useState(() => crypto.randomUUID());
  const number = (text: string) => (text.trim() === "" ? null : readNumber(text));
  const add = useMutation({
    mutationFn: () =>
      answer(
        api.POST("/lots", {
          body: {
            ingredient: picked.slug,
            typed: typed.amount,
            supplier: typed.supplier,
            origin: typed.origin,
            code: typed.code,
            use_by: typed.useBy || null,
            best_before: typed.bestBefore || null,
            price: number(typed.price),
            arrived_c: typed.celsius.trim() === "" ? null : units.readTemperature(typed.celsius),
            brix: number(typed.brix),
            state: typed.state,
            note: typed.note,
            made_of: madeOf,
          },
          ...once(key),
        }),
      ),
    onSuccess: async (lot) => {
      await shelfChanged(client);
      received(lot);
    },
  });
  const field = (name: keyof Typed) => ({ value: typed[name], onChange: (event: { target: { value: string } }) => setTyped({ ...typed, [name]: event.target.value }) });
  const states = (known.data?.facts as { states?: string[] } | undefined)?.states ?? [];
  const lines = known.data?.made_from?.lines;
  const unread = [typed.price, typed.brix].some((text) => text.trim() !== "" && readNumber(text) === null) || (typed.celsius.trim() !== "" && units.readTemperature(typed.celsius) === null);
  return (
    <form
      className="grid gap-3"
      aria-label={`Take in ${picked.name}`}
      onSubmit={(event) => {
        event.preventDefault();
        add.mutate();
      }}
    >
      <div className="grid gap-3 sm:grid-cols-3">
        <Field label="How much" required maxLength={60} placeholder="2 l, 6 kg, 30 eggs" error={faultAt(add.error, "/typed")} {...field("amount")} />
        <Field label="Use by" type="date" error={faultAt(add.error, "/use_by")} {...field("useBy")} />
        <Field label="or best before" type="date" error={faultAt(add.error, "/best_before")} {...field("bestBefore")} />
        {!lines && <Field label="From" maxLength={80} placeholder="whoever sold it" {...field("supplier")} />}
        <Field label="Lot code on the pack" maxLength={60} {...field("code")} />
        {!lines && <Field label={`Price of it all, ${currency}`} inputMode="decimal" maxLength={10} error={faultAt(add.error, "/price")} {...field("price")} />}
        <Field label={`It came at, ${units.temperatureUnit}`} maxLength={6} error={faultAt(add.error, "/arrived_c")} {...field("celsius")} />
        {!lines && <Field label="Grown or made in" maxLength={80} placeholder="the neighbour’s tree" {...field("origin")} />}
        {(known.data?.kind === "fruit" || known.data?.kind === "own") && <Field label="Its °Brix" inputMode="decimal" maxLength={5} error={faultAt(add.error, "/brix")} {...field("brix")} />}
        {states.length > 0 && <Select label="State" value={typed.state} options={[{ key: "", name: "not stated" }, ...states.map((name) => ({ key: name, name }))]} onChange={(state) => setTyped({ ...typed, state })} />}
      </div>
      <Field label="Note" maxLength={200} error={faultAt(add.error, "/note")} {...field("note")} />
      {lines && <MadeOf slugs={lines} shares={madeOf} change={setMadeOf} />}
      {unread && <p role="alert" className="text-hot">A price, temperature or °Brix is not a number. Write one like 9,40.</p>}
      <FaultOfAll error={add.error} />
      <Button type="submit" kind="dark" disabled={add.isPending || unread || typed.amount.trim() === ""}>
        It is in the house
      </Button>
    </form>
  );
}
