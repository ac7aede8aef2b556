import type { Schemas } from "../../shared/api/client";
import { useVocabulary } from "../../shared/api/vocabulary";
import { Checkbox } from "../../ui/checkbox";
import { Select } from "../../ui/select";

type Allergen = Schemas["IngredientOut"]["allergens"][number];
export type Held = { stated: Allergen[] | null; mayHold: Allergen[] };
const STATES = [
  { key: "no", name: "no" },
  { key: "may", name: "perhaps" },
  { key: "yes", name: "yes" },
];

type AllergenFieldsProps = Held & { known: Allergen[]; change: (next: Held) => void };

/** Which allergens it contains or may hold, once somebody says that all of them are stated. */
export function AllergenFields({ known, stated, mayHold, change }: AllergenFieldsProps) {
  const { allergens } = useVocabulary();
  return (
    <fieldset className="grid gap-1.5">
      <legend className="font-semibold">Allergens</legend>
      <Checkbox checked={stated !== null} onChange={(checked) => change({ stated: checked ? known : null, mayHold })}>
        all of them are stated here
      </Checkbox>
      {stated && <p className="text-sm text-muted">Perhaps: traces, or something only the maker can tell. It never passes as free of it.</p>}
      {stated && (
        <div className="grid gap-x-4 gap-y-1.5 sm:grid-cols-2">
          {(allergens as Allergen[]).map((allergen) => (
            <div key={allergen} className="grid grid-cols-[1fr_7rem] items-center">
              <span>{allergen}</span>
              <Select
                label={allergen}
                hideLabel
                value={stated.includes(allergen) ? "yes" : mayHold.includes(allergen) ? "may" : "no"}
                options={STATES}
                onChange={(state) =>
                  change({
                    stated: state === "yes" ? [...without(stated, allergen), allergen] : without(stated, allergen),
                    mayHold: state === "may" ? [...without(mayHold, allergen), allergen] : without(mayHold, allergen),
                  })
                }
              />
            </div>
          ))}
        </div>
      )}
    </fieldset>
  );
}

function without(all: Allergen[], one: Allergen): Allergen[] {
  return all.filter((other) => other !== one);
}
