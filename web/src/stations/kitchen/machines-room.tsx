import { useState } from "react";

import { useKitchen } from "../../shared/api/kitchen";
import { useUnits } from "../../shared/format/units";
import { Field } from "../../ui/field";
import { Machines } from "./machines";
import { Places } from "./places";
import { RoomForm, unread, useRoom } from "./room-form";
import { Vessels } from "./vessels";

/** The machines, and how cold it is where the tubs are kept and served. */
export function MachinesRoom() {
  return (
    <>
      <ServingConditions />
      <h3>Machines</h3>
      <p className="text-muted">Every mix shows how it fills the machine it is meant for, and in how many runs.</p>
      <Machines />
      <h3>Freezers, cabinets, chillers and other places</h3>
      <p className="text-muted">Where a tub hardens, waits and stands out: <em>Going cold, over time</em> lets you choose them.</p>
      <Places />
      <h3>Tubs and dishes</h3>
      <Vessels />
    </>
  );
}

function ServingConditions() {
  const kitchen = useKitchen();
  const units = useUnits();
  const { settings, kept, keep, fault } = useRoom();
  const [freezer, setFreezer] = useState(() => units.typedTemperature(kitchen.freezer_c));
  const [cabinet, setCabinet] = useState(() => units.typedTemperature(kitchen.cabinet_c));
  const [freezerC, cabinetC] = [freezer, cabinet].map((typed) => units.readTemperature(typed));

  function changed() {
    return {
      ...(freezer === units.typedTemperature(kitchen.freezer_c) ? {} : { freezer_c: freezerC ?? null }),
      ...(cabinet === units.typedTemperature(kitchen.cabinet_c) ? {} : { cabinet_c: cabinetC ?? null }),
    };
  }

  return (
    <RoomForm settings={settings} kept={kept} unreadable={freezerC === null || cabinetC === null} keep={() => keep(changed())}>
      <div className="grid items-start gap-3 sm:grid-cols-2">
        <Field
          label={`Our freezer, ${units.temperatureUnit}`}
          value={freezer}
          inputMode="text"
          maxLength={8}
          onChange={(event) => setFreezer(event.target.value)}
          error={unread(freezer, freezerC ?? null) ?? fault("freezer_c")}
        />
        <Field
          label={`Serving cabinet, ${units.temperatureUnit}`}
          value={cabinet}
          inputMode="text"
          maxLength={8}
          onChange={(event) => setCabinet(event.target.value)}
          error={unread(cabinet, cabinetC ?? null) ?? fault("cabinet_c")}
        />
      </div>
    </RoomForm>
  );
}
