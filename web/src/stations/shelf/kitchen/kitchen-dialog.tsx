import { useQueryClient } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useState } from "react";

import { type Schemas } from "../../../shared/api/client";
import { useKitchen } from "../../../shared/api/kitchen";
import { shelfChanged } from "../../../shared/api/queries";
import { useKitchenSettings } from "../../../shared/api/use-kitchen-settings";
import { useVocabulary } from "../../../shared/api/vocabulary";
import { readNumber, shown } from "../../../shared/format/numbers";
import { Button } from "../../../ui/button";
import { changed } from "../../../ui/changed";
import { Choice, Field } from "../../../ui/field";
import { SheetDialog } from "../../../ui/sheet-dialog";
import { PickIngredient } from "../pick-ingredient";
import { MachinesDialog } from "./machines";

const SPOONS: { key: Schemas["KitchenOut"]["spoons"]; name: string }[] = [
  { key: "metric", name: "metric: cup 250 ml, tablespoon 15 ml" },
  { key: "us", name: "US: cup 237 ml, tablespoon 14.8 ml" },
  { key: "imperial", name: "imperial: cup 284 ml, tablespoon 17.8 ml" },
];

/** What holds for everything in this kitchen: its spoons, its money, and who must be able to eat all of it. */
export function KitchenDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  const me = useKitchen();
  const [machines, setMachines] = useState(false);
  return (
    <>
      <SheetDialog open={open} onOpenChange={(now) => !now && onClose()} title={me.name}>
        <KitchenForm me={me} done={onClose} machines={() => setMachines(true)} />
      </SheetDialog>
      <MachinesDialog open={machines} onClose={() => setMachines(false)} />
    </>
  );
}

function KitchenForm({ me, done, machines }: { me: Schemas["KitchenOut"]; done: () => void; machines: () => void }) {
  const client = useQueryClient();
  const { restrictions } = useVocabulary();
  const [spoons, setSpoons] = useState(me.spoons);
  const [currency, setCurrency] = useState(me.currency);
  const [cabinet, setCabinet] = useState(shownCabinet(me));
  const [scale, setScale] = useState(String(me.scale_g));
  const [fine, setFine] = useState(String(me.fine_scale_g));
  const [loss, setLoss] = useState(String(me.loss_pct));
  const [scoop, setScoop] = useState(String(me.scoop_ml));
  const cabinetC = readNumber(cabinet);
  const scaleG = readNumber(scale);
  const [fineG, lossPct, scoopMl] = [readNumber(fine), readNumber(loss), readNumber(scoop)];
  const [letIn, setLetIn] = useState(me.may_come_in);
  const [chosen, setChosen] = useState(me.restrictions);
  const settings = useKitchenSettings(async () => {
    await shelfChanged(client);
    done();
  });
  function keep() {
    const now = { spoons, currency, restrictions: chosen, cabinet_c: cabinetC, scale_g: scaleG, fine_scale_g: fineG, loss_pct: lossPct, scoop_ml: scoopMl, may_come_in: letIn };
    settings.mutate(changed(now, { ...me, cabinet_c: readNumber(shownCabinet(me)) }));
  }
  return (
    <form
      className="grid gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        keep();
      }}
    >
      <Choice
        label="Cups and spoons of this kitchen"
        value={spoons}
        options={SPOONS}
        onChange={(event) => setSpoons(event.target.value as Schemas["KitchenOut"]["spoons"])}
      />
      <Field label="Currency" value={currency} required maxLength={8} onChange={(event) => setCurrency(event.target.value)} error={settings.error?.message} />
      <Field
        label="Serving cabinet, °C"
        value={cabinet}
        inputMode="decimal"
        maxLength={6}
        onChange={(event) => setCabinet(event.target.value)}
        error={cabinetC === null || cabinetC > 0 || cabinetC < -32 ? "A temperature from −32 to 0." : undefined}
      />
      <Field
        label="What the scale shows, g"
        value={scale}
        inputMode="decimal"
        maxLength={6}
        onChange={(event) => setScale(event.target.value)}
        error={scaleG === null || scaleG < 0.001 || scaleG > 100 ? "A number of grams, such as 1 or 0.1." : undefined}
      />
      <Field
        label="What the fine scale for gums shows, g"
        value={fine}
        inputMode="decimal"
        maxLength={6}
        onChange={(event) => setFine(event.target.value)}
        error={fineG === null || fineG < 0.001 || fineG > 100 ? "A number of grams, such as 0.1 or 0.01." : undefined}
      />
      <div className="grid grid-cols-2 items-start gap-3">
        <Field
          label="Lost to pot and machine, %"
          value={loss}
          inputMode="decimal"
          maxLength={6}
          onChange={(event) => setLoss(event.target.value)}
          error={lossPct === null || lossPct < 0 || lossPct > 50 ? "0 to 50 %; 2 to 6 is usual." : undefined}
        />
        <Field
          label="A scoop, ml"
          value={scoop}
          inputMode="decimal"
          maxLength={6}
          onChange={(event) => setScoop(event.target.value)}
          error={scoopMl === null || scoopMl < 5 || scoopMl > 1000 ? "5 to 1000 ml; 60 to 70 is usual." : undefined}
        />
      </div>
      <Button onClick={machines}>Machines of this kitchen…</Button>
      <fieldset className="grid gap-1">
        <legend className="font-semibold">Everything made here must be</legend>
        <div className="grid grid-cols-2">
          {restrictions.map(({ key, name }) => (
            <label key={key} className="flex items-center gap-1.5">
              <input
                type="checkbox"
                checked={chosen.includes(key)}
                onChange={(event) => setChosen(event.target.checked ? [...chosen, key] : chosen.filter((other) => other !== key))}
              />
              {name}
            </label>
          ))}
        </div>
      </fieldset>
      <fieldset className="grid gap-1">
        <legend className="font-semibold">Balance may bring in</legend>
        <p className="text-sm text-muted">{letIn.length > 0 ? "These, where nothing forbids them:" : "The common sugars, milk products and fibres. Name your own to have only those."}</p>
        <ul className="flex flex-wrap gap-1.5">
          {letIn.map((slug) => (
            <li key={slug} className="flex items-center gap-1 rounded-button border border-line px-2 text-sm">
              {slug.replaceAll("-", " ")}
              <button type="button" aria-label={`Not ${slug.replaceAll("-", " ")}`} onClick={() => setLetIn(letIn.filter((other) => other !== slug))} className="p-1 text-muted">
                <X size={12} aria-hidden />
              </button>
            </li>
          ))}
        </ul>
        <PickIngredient label="Ingredients that may come in" hideLabel picked={null} pick={(picked) => picked && !letIn.includes(picked.slug) && setLetIn([...letIn, picked.slug])} />
      </fieldset>
      <Button type="submit" kind="dark" disabled={settings.isPending}>
        Keep this
      </Button>
    </form>
  );
}

function shownCabinet(me: Schemas["KitchenOut"]): string {
  return shown(me.cabinet_c, Number.isInteger(me.cabinet_c) ? 0 : 1);
}
