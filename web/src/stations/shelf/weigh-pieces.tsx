import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, type Schemas } from "../../shared/api/client";
import { shelfChanged } from "../../shared/api/queries";
import { readNumber } from "../../shared/format/numbers";
import { useUnits } from "../../shared/format/units";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { Select } from "../../ui/select";
import { relearn } from "../taste/relearn";

/** Some pieces weighed together teach what one of them weighs here. */
export function WeighPieces({ ingredient, done }: { ingredient: Schemas["IngredientDetail"]; done: () => void }) {
  const client = useQueryClient();
  const units = useUnits();
  const kinds = Object.keys(ingredient.pieces);
  const [piece, setPiece] = useState(kinds[0] ?? "");
  const [typed, setTyped] = useState({ pieces: "", mass: "" });
  const pieces = readNumber(typed.pieces);
  const grams = units.readMass(typed.mass);
  const keep = useMutation({
    mutationFn: () => answer(api.POST("/piece-weighings", { body: { ingredient: ingredient.slug, piece, pieces: pieces ?? 0, grams: grams ?? 0 } })),
    onSuccess: async () => {
      await Promise.all([relearn(client), shelfChanged(client)]);
      done();
    },
  });
  const each = pieces && grams ? grams / pieces : null;
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate();
      }}
    >
      {kinds.length > 1 && <Select label="What" value={piece} options={kinds.map((key) => ({ key, name: key }))} onChange={setPiece} />}
      <div className="grid grid-cols-2 gap-3">
        <Field label="How many" inputMode="decimal" value={typed.pieces} onChange={(event) => setTyped({ ...typed, pieces: event.target.value })} />
        <Field label={`Together, ${units.massUnit}`} inputMode="decimal" value={typed.mass} onChange={(event) => setTyped({ ...typed, mass: event.target.value })} />
      </div>
      <p className="text-muted">
        {each === null ? "" : `One ${piece}: ${units.mass(each)}. `}It was reckoned as {units.mass(ingredient.pieces[piece] ?? 0)}.
      </p>
      {keep.error && (
        <p role="alert" className="text-hot">
          {keep.error.message}
        </p>
      )}
      <Button type="submit" kind="dark" disabled={each === null || keep.isPending}>
        Note it
      </Button>
    </form>
  );
}
