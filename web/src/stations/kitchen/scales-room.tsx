import { useState } from "react";

import type { Schemas } from "../../shared/api/client";
import { useKitchen } from "../../shared/api/kitchen";
import { readNumber } from "../../shared/format/numbers";
import { useUnits } from "../../shared/format/units";
import { Field } from "../../ui/field";
import { RoomForm, unread, useRoom } from "./room-form";

type Setting = "scale_g" | "fine_scale_g" | "loss_pct" | "scoop_ml";

/** What the scales can tell apart, and what is lost and served. */
export function ScalesRoom() {
  const kitchen = useKitchen();
  const units = useUnits();
  const { settings, kept, keep, fault } = useRoom();
  const written = (setting: Setting) => (setting.endsWith("_g") ? units.typedMass(kitchen[setting], 3) : String(kitchen[setting]));
  const [typed, setTyped] = useState(() => ({
    scale_g: written("scale_g"),
    fine_scale_g: written("fine_scale_g"),
    loss_pct: written("loss_pct"),
    scoop_ml: written("scoop_ml"),
  }));
  const read = (setting: Setting) => (setting.endsWith("_g") ? units.readMass(typed[setting]) : readNumber(typed[setting]));
  const all: Setting[] = ["scale_g", "fine_scale_g", "loss_pct", "scoop_ml"];

  function changed(): Schemas["KitchenSettings"] {
    return Object.fromEntries(all.filter((setting) => typed[setting] !== written(setting)).map((setting) => [setting, read(setting)]));
  }

  const field = (setting: Setting, label: string) => (
    <Field
      label={label}
      value={typed[setting]}
      inputMode="decimal"
      maxLength={8}
      onChange={(event) => setTyped({ ...typed, [setting]: event.target.value })}
      error={unread(typed[setting], read(setting)) ?? fault(setting)}
    />
  );
  return (
    <RoomForm settings={settings} kept={kept} unreadable={all.some((setting) => read(setting) === null)} keep={() => keep(changed())}>
      <div className="grid items-start gap-3 sm:grid-cols-2">
        {field("scale_g", `What the scale shows, ${units.massUnit}`)}
        {field("fine_scale_g", `What the fine scale for gums shows, ${units.massUnit}`)}
        {field("loss_pct", "Lost to pot and machine, %")}
        {field("scoop_ml", "A scoop, ml")}
      </div>
      <p className="text-muted">2 to 6 % of a mix usually stays in pot, sieve and machine; a scoop is usually 60 to 70 ml.</p>
    </RoomForm>
  );
}
