import { useState } from "react";

import type { Schemas } from "../../../shared/api/client";
import { readNumber } from "../../../shared/format/numbers";
import { Button } from "../../../ui/button";
import { inputClass } from "../../../ui/field";
import { type Picked, PickIngredient } from "../../shelf/pick-ingredient";
import type { Draft } from "../draft/draft";
import type { DraftReading } from "../draft/use-analysis";

type Props = {
  job: Schemas["JobOut"];
  draft: Draft;
  reading: DraftReading | undefined;
  start: (question: Partial<Schemas["BalanceQuestion"]>) => void;
};

/** What a job is about: a line, and ingredient or grams where it needs them. */
export function JobForm({ job, draft, reading, start }: Props) {
  const lines = draft.lines.map((line, at) => ({ at, name: reading?.lines[line.key]?.name ?? line.ingredient }));
  const [line, setLine] = useState(0);
  const [ingredient, setIngredient] = useState<Picked | null>(null);
  const [typed, setTyped] = useState("");
  const needsIngredient = job.asks.includes("ingredient");
  const needsGrams = job.asks.includes("grams");
  const grams = readNumber(typed);
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
      <select aria-label="Which line" value={line} onChange={(event) => setLine(Number(event.target.value))} className={inputClass}>
        {lines.map(({ at, name }) => (
          <option key={at} value={at}>
            {name}
          </option>
        ))}
      </select>
      {needsIngredient && <PickIngredient label="In its place" picked={ingredient} pick={setIngredient} />}
      {needsGrams && <input aria-label="How many g there are" placeholder="g there are" inputMode="decimal" maxLength={10} value={typed} onChange={(event) => setTyped(event.target.value)} className={inputClass} />}
      <Button type="submit" kind="dark" disabled={!ready}>
        Do it
      </Button>
    </form>
  );
}
