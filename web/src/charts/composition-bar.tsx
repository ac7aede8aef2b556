import type { Schemas } from "../shared/api/client";
import { useVocabulary } from "../shared/api/vocabulary";

import { paint } from "./strata";
import { useUnits } from "../shared/format/units";

/** A bar whose length is grams and whose colours are what they bring; `most` grams fill it. */
export function CompositionBar({
  parts,
  most,
  water,
  of,
}: {
  parts: Schemas["Part"][];
  most: number;
  water: boolean;
  of: string;
}) {
  const units = useUnits();
  const { strata } = useVocabulary();
  const order = strata.filter(({ key }) => water || key !== "water").reverse();
  const drawn = order.flatMap(({ key, name }) => {
    const part = parts.find((candidate) => candidate.key === key);
    return part && part.grams > 0 ? [{ key, name, grams: part.grams }] : [];
  });
  const text = drawn.map((part) => `${units.mass(part.grams)} ${part.name.toLowerCase()}`).join(", ");
  return (
    <div role="img" aria-label={`${of}: ${text || "nothing"}`} title={text} className="flex h-3 w-full">
      {drawn.map((part) => (
        <span
          key={part.key}
          className="h-full min-w-px first:rounded-l-sm last:rounded-r-sm"
          style={{ width: `${most > 0 ? (100 * part.grams) / most : 0}%`, background: paint(part.key) }}
        />
      ))}
    </div>
  );
}
