import { useState } from "react";

import type { Schemas } from "../../../shared/api/client";
import { useUnits } from "../../../shared/format/units";
import { Button } from "../../../ui/button";
import { inputClass } from "../../../ui/field";
import { Select } from "../../../ui/select";
import { type Picked, PickIngredient } from "../../shelf/pick-ingredient";
import { useDraft, useReading } from "../bench-context";
import { useBalance } from "./use-balance";

/** What a job is about: a line, and ingredient or an amount where it needs them. */
export function JobForm({ job }: { job: Schemas["JobOut"] }) {
  const { draft } = useDraft();
  const { reading } = useReading();
  const { start } = useBalance();
  const units = useUnits();
  const lines = draft.lines.map((line, at) => ({ at, name: reading?.lines[line.key]?.name ?? line.ingredient }));
  const [line, setLine] = useState(0);
  const [ingredient, setIngredient] = useState<Picked | null>(null);
  const [typed, setTyped] = useState("");
  const needsIngredient = job.asks.includes("ingredient");
  const needsGrams = job.asks.includes("grams");
  const grams = units.readMass(typed);
  const ready = (!needsIngredient || ingredient !== null) && (!needsGrams || (grams !== null && grams > 0));
  return (
    <form
      aria-label={job.name}
      className="grid gap-1.5 pt-1"
      onSubmit={(event) => {
        event.preventDefault();
        if (ready) start({ job: job.key, line, ingredient: needsIngredient ? (ingredient?.slug ?? null) : null, grams: needsGrams ? grams : null });
      }}
    >
      <Select
        label="Which line"
        hideLabel
        value={String(line)}
        options={lines.map(({ at, name }) => ({ key: String(at), name }))}
        onChange={(key) => setLine(Number(key))}
      />
      {needsIngredient && <PickIngredient label="In its place" picked={ingredient} pick={setIngredient} />}
      {needsGrams && <input aria-label="How many g there are" placeholder="g there are" inputMode="decimal" maxLength={10} value={typed} onChange={(event) => setTyped(event.target.value)} className={inputClass} />}
      <Button type="submit" kind="dark" disabled={!ready}>
        Do it
      </Button>
    </form>
  );
}
