import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useState } from "react";

import { answer, api, faultAt, type Schemas } from "../../shared/api/client";
import { machinesQuery } from "../../shared/api/queries";
import { useVocabulary } from "../../shared/api/vocabulary";
import { readNumber } from "../../shared/format/numbers";
import { Button } from "../../ui/button";
import { FaultOfAll, Field } from "../../ui/field";
import { SheetDialog } from "../../ui/sheet-dialog";
import { Waiting } from "../../ui/waiting";
import { Select } from "../../ui/select";
import { type Units, useUnits } from "../../shared/format/units";
import { Programmes } from "./programmes";

/** The machines of the kitchen: what each is, what its bowl holds, and a new one. */
export function MachinesDialog({ open, onClose, added }: { open: boolean; onClose: () => void; added?: (machine: Schemas["MachineOut"]) => void }) {
  return (
    <SheetDialog
      open={open}
      onOpenChange={(now) => !now && onClose()}
      title="Machines of this kitchen"
      explanation="Every mix shows how it fills the machine it is meant for, and in how many runs."
    >
      <Machines {...(added ? { added } : {})} />
    </SheetDialog>
  );
}

export function Machines({ added }: { added?: (machine: Schemas["MachineOut"]) => void }) {
  const units = useUnits();
  const machines = useQuery(machinesQuery);
  const client = useQueryClient();
  const changed = () => Promise.all([client.invalidateQueries(machinesQuery), client.invalidateQueries({ queryKey: ["analysis"] })]);
  const remove = useMutation({
    mutationFn: (id: number) => answer(api.DELETE("/machines/{machine_id}", { params: { path: { machine_id: id } } })),
    onSuccess: changed,
  });
  return (
    <div className="grid gap-4">
      <Waiting query={machines}>
        {(all) => (
          <ul className="grid gap-1">
            {all.map((machine) => (
              <li key={machine.id} className="flex items-start gap-2 border-b border-line py-1">
                <span className="min-w-0 flex-1">
                  <b>{machine.name}</b>, {units.number(machine.bowl_l, machine.bowl_l % 1 ? 1 : 0)} L
                  <span className="block text-sm text-muted">
                    {machine.kind_name}: filled to {units.number(machine.most_pct)} % at most. {machine.before} {machine.caution}
                  </span>
                  <span className="block text-sm text-muted">{speedOf(machine, units)}</span>
                  <Programmes machine={machine} changed={changed} />
                </span>
                <button type="button" aria-label={`Remove ${machine.name}`} onClick={() => remove.mutate(machine.id)} className="rounded-button p-1.5 text-muted hover:bg-steel">
                  <X size={14} aria-hidden />
                </button>
              </li>
            ))}
            {all.length === 0 && <li className="text-muted">None yet. What do you freeze with?</li>}
          </ul>
        )}
      </Waiting>
      {remove.error && <p role="alert">{remove.error.message}</p>}
      <NewMachine
        added={async (machine) => {
          await changed();
          added?.(machine);
        }}
      />
    </div>
  );
}

/** How fast it is beside its kind, as its log says. */
function speedOf({ logged, factor }: Schemas["MachineOut"], units: Units): string {
  if (logged === 0) return "Its minutes are those of its kind, give or take 30 %: log a few on the sheet of a batch.";
  const apart = Math.round(100 * (factor - 1));
  const speed = Math.abs(apart) < 3 ? "as fast as its kind" : `${units.number(Math.abs(apart))} % ${apart > 0 ? "faster" : "slower"} than its kind`;
  return `It freezes ${speed}, as ${logged === 1 ? "one logged run says" : `${logged} logged runs say`}.`;
}

function NewMachine({ added }: { added: (machine: Schemas["MachineOut"]) => Promise<void> }) {
  const { machines: kinds } = useVocabulary();
  const [kind, setKind] = useState("canister");
  const [name, setName] = useState("");
  const [bowl, setBowl] = useState("1.5");
  const litres = readNumber(bowl);
  const add = useMutation({
    mutationFn: (body: Schemas["MachineIn"]) => answer(api.POST("/machines", { body })),
    onSuccess: async (machine) => {
      setName("");
      await added(machine);
    },
  });
  return (
    <form
      aria-label="New machine"
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (litres !== null) add.mutate({ name: name.trim() || (kinds.find((one) => one.key === kind)?.name ?? kind), kind, bowl_l: litres, programmes: [] });
      }}
    >
      <div className="grid grid-cols-[1fr_7rem] gap-3">
        <Select
          label="Kind"
          value={kind}
          options={kinds}
          onChange={(key) => {
            setKind(key);
            setBowl(String(kinds.find((one) => one.key === key)?.bowl_l ?? bowl));
          }}
        />
        <Field
          label="Bowl, L"
          value={bowl}
          inputMode="decimal"
          maxLength={6}
          onChange={(event) => setBowl(event.target.value)}
          error={litres === null ? "Litres, such as 1.5." : faultAt(add.error, "/bowl_l")}
        />
      </div>
      <Field label="What you call it" value={name} maxLength={100} placeholder="the blue one" onChange={(event) => setName(event.target.value)} error={faultAt(add.error, "/name")} />
      <FaultOfAll error={add.error} />
      <Button type="submit" kind="dark" disabled={add.isPending || litres === null} className="justify-self-start">
        Add this machine
      </Button>
    </form>
  );
}
