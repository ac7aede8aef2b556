import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Tabs } from "radix-ui";
import { useState } from "react";

import { CompositionBar } from "../../charts/composition-bar";
import { answer, api, type Schemas } from "../../shared/api/client";
import { shelfChanged } from "../../shared/api/queries";
import { readNumber } from "../../shared/format/numbers";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { SheetDialog } from "../../ui/sheet-dialog";
import { AllergenFields, type Held } from "./allergen-fields";
import { OriginFields, isSoldRawOrNot, type Origin } from "./origin-fields";
import { LabelPaste } from "./label-paste";
import { PickIngredient, type Picked } from "./pick-ingredient";
import { useUnits } from "../../shared/format/units";

type Way = "label" | "brix" | "blend";
type OwnWay = Schemas["FromLabel"] | Schemas["FromBrix"] | Schemas["FromBlend"];

const LABEL: { key: keyof Schemas["NutritionLabel"]; name: string }[] = [
  { key: "energy_kcal", name: "Energy, kcal" },
  { key: "fat", name: "Fat, g" },
  { key: "carbohydrate", name: "Carbohydrate, g" },
  { key: "sugars", name: "– sugars, g" },
  { key: "polyols", name: "– polyols, g" },
  { key: "fibre", name: "Fibre, g" },
  { key: "protein", name: "Protein, g" },
  { key: "salt", name: "Salt, g" },
  { key: "alcohol_vol", name: "Alcohol, % vol" },
];

/** An ingredient of the kitchen's own: from its label, from a refractometer, or a blend whose maker does not say. */
export function CustomIngredientDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <SheetDialog
      open={open}
      onOpenChange={(now) => !now && onClose()}
      title="Own ingredient"
      explanation="Made of other things? Then it is a preparation, even without cooking."
      wide
    >
      <OwnForm done={onClose} />
    </SheetDialog>
  );
}

function OwnForm({ done }: { done: () => void }) {
  const client = useQueryClient();
  const [way, setWay] = useState<Way>("label");
  const [name, setName] = useState("");
  const [picked, setPicked] = useState<Picked | null>(null);
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [held, setHeld] = useState<Held>({ stated: null, mayHold: [] });
  const [origin, setOrigin] = useState<Origin>({ animal: "", sold: "" });
  const put = (key: string) => (value: string) => setTyped((before) => ({ ...before, [key]: value }));
  const body = bodyOf({ way, name, picked, typed, held, origin });
  const preview = useQuery({
    queryKey: ["own", body],
    queryFn: () => answer(api.POST("/custom-ingredients/preview", { body: body! })),
    enabled: body !== null,
    retry: false,
  });
  const create = useMutation({
    mutationFn: () => answer(api.POST("/custom-ingredients", { body: body! })),
    onSuccess: async () => {
      await shelfChanged(client);
      done();
    },
  });
  const asksSold = isSoldRawOrNot([...(held.stated ?? []), ...(preview.data?.allergens ?? [])]);
  const error = create.error?.message ?? preview.error?.message;
  return (
    <form
      className="grid gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        create.mutate();
      }}
    >
      <Tabs.Root value={way} onValueChange={(now) => setWay(now as Way)} className="grid gap-4">
        <Tabs.List aria-label="How it is known" className="flex flex-wrap gap-2">
          <Tab value="label">From its label</Tab>
          <Tab value="brix">From a °Brix reading</Tab>
          <Tab value="blend">A blend that does not say</Tab>
        </Tabs.List>
        <Field label="Name" value={name} required maxLength={200} onChange={(event) => setName(event.target.value)} />
        <Tabs.Content value="label" className="grid gap-4">
          <PickIngredient label="What on the shelf is it most like? Its kinds of fat, sugar and protein are taken from there." picked={picked} pick={setPicked} />
          <LabelPaste fill={(figures) => setTyped((before) => ({ ...before, ...figures }))} />
          <div className="grid grid-cols-2 items-end gap-3 sm:grid-cols-4">
            <Figure label="In how many g" value={typed.serving_g} put={put("serving_g")} placeholder="100" />
            {LABEL.map(({ key, name: said }) => (
              <Figure key={key} label={said} value={typed[key]} put={put(key)} />
            ))}
          </div>
        </Tabs.Content>
        <Tabs.Content value="brix" className="grid gap-4">
          <PickIngredient label="Which fruit or syrup is it?" picked={picked} pick={setPicked} />
          <div className="w-40">
            <Figure label="°Brix read" value={typed.brix} put={put("brix")} />
          </div>
        </Tabs.Content>
        <Tabs.Content value="blend" className="grid gap-4">
          <p className="text-muted">Dosed as its label says; its figures are marked as uncertain wherever it is used.</p>
          <div className="grid grid-cols-2 gap-3">
            <Figure label="Dose from, % of the mix" value={typed.low} put={put("low")} />
            <Figure label="to, % of the mix" value={typed.high} put={put("high")} />
          </div>
        </Tabs.Content>
      </Tabs.Root>
      <PackFields typed={typed} put={put} />
      <AllergenFields known={preview.data?.allergens ?? []} {...held} change={setHeld} />
      <OriginFields {...origin} asksAnimal={way !== "brix"} asksSold={asksSold} change={setOrigin} />
      {preview.data && !error && <Preview found={preview.data} name={name} />}
      {error && (
        <p role="alert" className="text-hot">
          {error}
        </p>
      )}
      <Button type="submit" kind="hot" disabled={body === null || create.isPending || preview.isError || (asksSold && origin.sold === "")}>
        Put it on the shelf
      </Button>
    </form>
  );
}

function PackFields({ typed, put }: { typed: Record<string, string>; put: (key: string) => (value: string) => void }) {
  return (
    <div className="grid grid-cols-2 gap-3">
      <Figure label="Price of a pack" value={typed.price} put={put("price")} />
      <Figure label="which holds g" value={typed.pack_g} put={put("pack_g")} />
    </div>
  );
}

function Tab({ value, children }: { value: Way; children: string }) {
  return (
    <Tabs.Trigger
      value={value}
      className="rounded-button border border-line px-3 py-1.5 hover:border-muted data-[state=active]:border-ink data-[state=active]:font-semibold"
    >
      {children}
    </Tabs.Trigger>
  );
}

function Figure(props: { label: string; value: string | undefined; put: (value: string) => void; placeholder?: string }) {
  const typed = props.value ?? "";
  const wrong = typed.trim() !== "" && readNumber(typed) === null;
  return (
    <Field
      label={props.label}
      value={typed}
      inputMode="decimal"
      maxLength={10}
      placeholder={props.placeholder}
      onChange={(event) => props.put(event.target.value)}
      error={wrong ? "Not a number; write one like 3,5." : undefined}
    />
  );
}

type Stated = { way: Way; name: string; picked: Picked | null; typed: Record<string, string>; held: Held; origin: Origin };

/** What is typed as the server takes it; null while it is not enough. */
function bodyOf({ way, name, picked, typed, held, origin }: Stated): OwnWay | null {
  const read = (key: string) => readNumber(typed[key] ?? "");
  if (name.trim() === "" || Object.values(typed).some((text) => text.trim() !== "" && readNumber(text) === null)) return null;
  const own = { name: name.trim(), price: read("price"), pack_g: read("pack_g"), allergens: held.stated, may_hold: held.mayHold, animal: origin.animal || null, sold: origin.sold || null };
  if (way === "label") {
    const stated = [...LABEL.map(({ key }) => key), "serving_g"].map((key): [string, number | null] => [key, read(key)]);
    const figures = Object.fromEntries(stated.filter(([, value]) => value !== null));
    if (Object.keys(figures).length === 0) return null;
    return { ...own, way, label: figures as Schemas["NutritionLabel"], like: picked?.slug ?? null } as Schemas["FromLabel"];
  }
  if (way === "brix") {
    const brix = read("brix");
    return picked && brix !== null ? ({ ...own, way, of: picked.slug, brix } as Schemas["FromBrix"]) : null;
  }
  const [low, high] = [read("low"), read("high")];
  return low !== null && high !== null ? ({ ...own, way, dose_low_pct: low, dose_high_pct: high, of: "gums" } as Schemas["FromBlend"]) : null;
}

function Preview({ found, name }: { found: Schemas["Preview"]; name: string }) {
  const units = useUnits();
  return (
    <div className="grid gap-1.5" role="status">
      <CompositionBar parts={found.strata} most={100} water of={name} />
      <p className="text-muted">
        {found.components.map((part) => `${part.name.toLowerCase()} ${units.number(part.grams, 1)}`).join(", ")}. Sweetness {units.number(found.sweetness_pod)}, freezing power{" "}
        {units.number(found.freezing_power_pac)}, {units.number(found.energy_kcal)} kcal.
      </p>
      {found.doubts.map((doubt) => (
        <p key={doubt} className="border-l-3 border-hot pl-2">
          {doubt}
        </p>
      ))}
    </div>
  );
}
