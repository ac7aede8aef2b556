import { useMutation } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useState } from "react";

import { answer, api, ifMatch, type Schemas } from "../../shared/api/client";
import { readNumber } from "../../shared/format/numbers";
import { useUnits } from "../../shared/format/units";
import { Button } from "../../ui/button";
import { FaultOfAll, Field } from "../../ui/field";

type Machine = Schemas["MachineOut"];
type Programme = Schemas["ProgrammeIn"];

/** The programmes or marks of a machine, the usual one first, and a new one. */
export function Programmes({ machine, changed }: { machine: Machine; changed: () => Promise<unknown> }) {
  const units = useUnits();
  const [adding, setAdding] = useState(false);
  const keep = useMutation({
    mutationFn: (programmes: Programme[]) =>
      answer(api.PATCH("/machines/{machine_id}", { params: { path: { machine_id: machine.id } }, ...ifMatch(machine.version), body: { programmes } })),
    onSuccess: async () => {
      setAdding(false);
      await changed();
    },
  });
  return (
    <span className="grid gap-1 text-sm">
      {machine.programmes.map((programme, at) => (
        <span key={programme.name} className="flex items-center gap-1">
          <span className="text-muted">
            “{programme.name}”{at === 0 && ", the usual one"}
            {programme.draw_c !== null && programme.draw_c !== undefined && `, draws at ${units.setting(programme.draw_c)}`}
            {programme.max_min !== null && programme.max_min !== undefined && `, stops after ${programme.max_min} min`}
          </span>
          <button type="button" aria-label={`Remove programme ${programme.name}`} className="rounded-button p-1 text-muted hover:bg-steel" onClick={() => keep.mutate(machine.programmes.filter((one) => one !== programme))}>
            <X size={12} aria-hidden />
          </button>
        </span>
      ))}
      {adding ? (
        <NewProgramme keep={(programme) => keep.mutate([...machine.programmes, programme])} />
      ) : (
        <button type="button" className="justify-self-start text-muted underline" onClick={() => setAdding(true)}>
          add a programme or a mark
        </button>
      )}
      <FaultOfAll error={keep.error} />
    </span>
  );
}

function NewProgramme({ keep }: { keep: (programme: Programme) => void }) {
  const units = useUnits();
  const [typed, setTyped] = useState({ name: "", draw: "", stop: "" });
  const draw_c = typed.draw.trim() ? units.readTemperature(typed.draw) : null;
  const max_min = typed.stop.trim() ? readNumber(typed.stop) : null;
  const unread = (typed.draw.trim() && draw_c === null) || (typed.stop.trim() && max_min === null);
  return (
    <span className="grid grid-cols-[1fr_6.5rem_6.5rem_auto] items-end gap-2">
      <Field label="Called" value={typed.name} maxLength={40} onChange={(event) => setTyped({ ...typed, name: event.target.value })} />
      <Field label={`Draws, ${units.temperatureUnit}`} value={typed.draw} maxLength={8} onChange={(event) => setTyped({ ...typed, draw: event.target.value })} />
      <Field label="Stops, min" value={typed.stop} maxLength={6} onChange={(event) => setTyped({ ...typed, stop: event.target.value })} />
      <Button disabled={!typed.name.trim() || Boolean(unread)} onClick={() => keep({ name: typed.name, draw_c, max_min })}>
        Keep
      </Button>
    </span>
  );
}
