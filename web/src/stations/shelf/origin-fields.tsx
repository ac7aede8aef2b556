import { Select } from "../../ui/select";

/** What of a good comes from animals other than milk and egg, and how its milk or egg is sold; empty where not answered. */
export type Origin = { animal: string; sold: string };

const ANIMAL = [
  { key: "", name: "Not known" },
  { key: "none", name: "None" },
  { key: "bees", name: "Honey or beeswax" },
  { key: "rennet", name: "Rennet" },
  { key: "slaughtered", name: "Gelatin, meat or fish" },
];
const SOLD = [
  { key: "", name: "Choose" },
  { key: "pasteurised", name: "Pasteurised or cooked" },
  { key: "raw", name: "Raw" },
];

/** Whether what holds these allergens is sold raw or pasteurised. */
export function isSoldRawOrNot(allergens: readonly string[]): boolean {
  return allergens.includes("milk") || allergens.includes("egg");
}

/** Where a good comes from: what nobody answers never passes as vegan. */
export function OriginFields(props: Origin & { asksAnimal: boolean; asksSold: boolean; change: (next: Origin) => void }) {
  const { animal, sold, asksAnimal, asksSold, change } = props;
  return (
    <div className="grid grid-cols-2 gap-3">
      {asksAnimal && <Select label="From animals, other than milk and egg" value={animal} options={ANIMAL} onChange={(next) => change({ animal: next, sold })} />}
      {asksSold && <Select label="How the milk or egg is sold" value={sold} options={SOLD} onChange={(next) => change({ animal, sold: next })} />}
    </div>
  );
}
