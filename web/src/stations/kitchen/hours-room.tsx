import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, faultOfAll, ifMatch, type Schemas } from "../../shared/api/client";
import { workplaceQuery } from "../../shared/api/queries";
import { readNumber } from "../../shared/format/numbers";
import { Button } from "../../ui/button";
import { Checkbox } from "../../ui/checkbox";
import { Field } from "../../ui/field";
import { Waiting } from "../../ui/waiting";
import { hoursTyped, readHours } from "./hours";

type Workplace = Schemas["WorkplaceOut"];
type Machine = Schemas["MachineAtWork"];

const COUNTS = [
  { key: "burners", name: "Burners" },
  { key: "ice_baths", name: "Ice baths" },
  { key: "motors", name: "Motors for bowls" },
  { key: "buckets", name: "Ice-and-salt buckets to harden in" },
] as const;
const LITRES = [
  { key: "fridge_l", name: "Fridge, L free" },
  { key: "freezer_l", name: "Freezer, L free" },
  { key: "blast_l", name: "Blast chiller, L" },
] as const;
const KINDS = [
  ["weigh", "Weighing"], ["cook", "Cooking a custard"], ["scald", "Scalding"], ["syrup", "Dissolving a syrup"], ["cool", "Cooling in the bath"],
  ["temper", "Tempering"],
] as const;

/** Who is there when, and what plans reckon with: burners, baths, litres, machines and their washing, usual minutes. */
export function HoursRoom() {
  const workplace = useQuery({ ...workplaceQuery, refetchOnWindowFocus: false });
  return <Waiting query={workplace}>{(found) => <HoursForm key={found.version} workplace={found} />}</Waiting>;
}

/** What was typed of a workplace, each figure as it stands in its field. */
type Typed = {
  people: { name: string; hours: string }[];
  open: string;
  quiet: string;
  numbers: Record<string, string>;
  minutes: Record<string, string>;
  machines: Machine[];
  days: string;
  signed: string;
};

function typedOf(workplace: Workplace): Typed {
  const numbers = [...COUNTS, ...LITRES, { key: "spare_min" as const }].map(({ key }) => [key, String(workplace[key])] as const);
  return {
    people: workplace.people.map(({ name, hours }) => ({ name, hours: hoursTyped(hours) })),
    open: hoursTyped(workplace.open),
    quiet: hoursTyped(workplace.quiet),
    numbers: Object.fromEntries(numbers),
    minutes: Object.fromEntries(Object.entries(workplace.minutes).map(([key, value]) => [key, String(value)])),
    machines: workplace.machines,
    days: String(workplace.base_days?.days ?? ""),
    signed: workplace.base_days?.signed_by ?? "",
  };
}

/** What was typed, read; null where something of it cannot be. */
function readTyped(typed: Typed): Schemas["WorkplaceIn"] | null {
  const people = typed.people.map(({ name, hours }) => ({ name: name.trim(), hours: readHours(hours) }));
  const [open, quiet] = [readHours(typed.open), readHours(typed.quiet)];
  const figures = Object.entries(typed.numbers).map(([key, text]) => [key, readNumber(text)] as const);
  if (open === null || quiet === null || people.some(({ hours }) => hours === null) || figures.some(([, value]) => value === null)) return null;
  const minutes = Object.entries(typed.minutes).flatMap(([key, text]) => (readNumber(text) === null ? [] : [[key, Math.round(readNumber(text)!)] as const]));
  const days = readNumber(typed.days);
  return {
    ...(Object.fromEntries(figures) as Pick<Workplace, (typeof COUNTS)[number]["key"] | (typeof LITRES)[number]["key"] | "spare_min">),
    people: people.map(({ name, hours }) => ({ name, hours: hours ?? [] })),
    open,
    quiet,
    machines: typed.machines,
    minutes: Object.fromEntries(minutes),
    base_days: days === null || typed.signed.trim() === "" ? null : { days, signed_by: typed.signed.trim() },
  };
}

function HoursForm({ workplace }: { workplace: Workplace }) {
  const client = useQueryClient();
  const [typed, setTyped] = useState(() => typedOf(workplace));
  const keep = useMutation({
    mutationFn: (body: Schemas["WorkplaceIn"]) => answer(api.PUT("/workplace", { body, ...ifMatch(workplace.version) })),
    onSuccess: (found) => client.setQueryData(workplaceQuery.queryKey, found),
  });
  const read = readTyped(typed);
  const change = (changes: Partial<Typed>) => setTyped({ ...typed, ...changes });
  return (
    <form
      className="grid gap-5"
      onSubmit={(event) => {
        event.preventDefault();
        if (read) keep.mutate(read);
      }}
    >
      <PeopleFields typed={typed} change={change} />
      <fieldset className="grid items-end gap-3 sm:grid-cols-4">
        <Legend>Places</Legend>
        {[...COUNTS, ...LITRES].map(({ key, name }) => (
          <Field key={key} label={name} inputMode="decimal" value={typed.numbers[key] ?? ""} error={readNumber(typed.numbers[key] ?? "") === null ? "A number." : undefined} onChange={(event) => change({ numbers: { ...typed.numbers, [key]: event.target.value } })} />
        ))}
        <Field label="Reserve before each service, min" inputMode="numeric" value={typed.numbers["spare_min"] ?? ""} onChange={(event) => change({ numbers: { ...typed.numbers, spare_min: event.target.value } })} />
      </fieldset>
      {typed.machines.map((machine, at) => (
        <MachineFields key={machine.machine} name={workplace.machine_names[machine.machine] ?? ""} machine={machine} change={(now) => change({ machines: typed.machines.map((one, which) => (which === at ? now : one)) })} />
      ))}
      <fieldset className="grid items-end gap-3 sm:grid-cols-4">
        <Legend>Usual minutes here</Legend>
        {KINDS.map(([key, name]) => (
          <Field key={key} label={name} inputMode="numeric" value={typed.minutes[key] ?? ""} placeholder="from the grams" onChange={(event) => change({ minutes: { ...typed.minutes, [key]: event.target.value } })} />
        ))}
      </fieldset>
      <fieldset className="grid gap-3 sm:grid-cols-2">
        <Legend>How long a base may stand in the fridge</Legend>
        <p className="text-muted sm:col-span-2">Three days at 5 °C or less, two for a syrup, unless you answer for another number; seven is the most, three for a base that was never heated. Your local code and your own food safety plan go first.</p>
        <Field label="Days" inputMode="decimal" value={typed.days} placeholder="3" onChange={(event) => change({ days: event.target.value })} />
        <Field label="Signed by" value={typed.signed} maxLength={100} onChange={(event) => change({ signed: event.target.value })} />
      </fieldset>
      <div className="flex items-center gap-3">
        <Button type="submit" kind="dark" disabled={keep.isPending || read === null}>
          Keep this
        </Button>
        <span role="status" className="text-sm text-muted">
          {workplace.version > 0 && JSON.stringify(typed) === JSON.stringify(typedOf(workplace)) ? "Kept." : ""}
        </span>
      </div>
      {keep.error && (
        <p role="alert" className="text-hot">
          {faultOfAll(keep.error) ?? keep.error.message}
        </p>
      )}
    </form>
  );
}

function Legend({ children }: { children: string }) {
  return <legend className="mb-1 font-name text-lg font-bold">{children}</legend>;
}

function PeopleFields({ typed, change }: { typed: Typed; change: (changes: Partial<Typed>) => void }) {
  const { people, open, quiet } = typed;
  const put = (at: number, person: Partial<Typed["people"][number]>) => change({ people: people.map((one, which) => (which === at ? { ...one, ...person } : one)) });
  const wrong = (hours: string, like: string) => (readHours(hours) === null ? `Write it like “${like}”.` : undefined);
  return (
    <fieldset className="grid gap-2">
      <Legend>Who is there when</Legend>
      <p className="text-muted">Such as “Mon–Sat 9:00–17:30” or “Fri, Sat 16:00–1:00”; several with a semicolon.</p>
      {people.map((one, at) => (
        <div key={at} className="grid items-end gap-2 sm:grid-cols-[10rem_1fr_auto]">
          <Field label="Name" value={one.name} required maxLength={100} onChange={(event) => put(at, { name: event.target.value })} />
          <Field label={`Hours of ${one.name || "this person"}`} value={one.hours} error={wrong(one.hours, "Mon–Sat 9:00–17:30")} onChange={(event) => put(at, { hours: event.target.value })} />
          <Button kind="quiet" aria-label={`Take out ${one.name}`} onClick={() => change({ people: people.filter((_, which) => which !== at) })}>
            Take out
          </Button>
        </div>
      ))}
      <Button className="justify-self-start" onClick={() => change({ people: [...people, { name: "", hours: "Mon–Sun 9:00–17:00" }] })}>
        Somebody more
      </Button>
      <div className="grid items-end gap-3 sm:grid-cols-2">
        <Field label="The kitchen is open (empty: always)" value={open} error={wrong(open, "Mon–Sun 7:00–22:00")} onChange={(event) => change({ open: event.target.value })} />
        <Field label="Quiet hours, no loud machine" value={quiet} error={wrong(quiet, "Mon–Sun 22:00–7:00")} onChange={(event) => change({ quiet: event.target.value })} />
      </div>
    </fieldset>
  );
}

function MachineFields({ name, machine, change }: { name: string; machine: Machine; change: (machine: Machine) => void }) {
  const freezes = machine.ready_min >= 240;
  const figure = (key: "wash_min" | "dirty_max_min" | "ready_min" | "ready_hands_min", label: string) => (
    <Field label={label} type="number" min={0} value={machine[key]} onChange={(event) => change({ ...machine, [key]: Math.max(0, Math.round(Number(event.target.value))) })} />
  );
  return (
    <fieldset className="grid items-end gap-3 sm:grid-cols-4">
      <Legend>{name}</Legend>
      {figure("ready_min", freezes ? "Freezes for, min" : "Made ready in, min")}
      {figure("ready_hands_min", "Hands for that, min")}
      {figure("wash_min", "Washed in, min")}
      {figure("dirty_max_min", "Dirty at most, min")}
      <Field
        label="Churns in, min"
        type="number"
        min={1}
        placeholder="forecast"
        value={machine.churn_min ?? ""}
        onChange={(event) => change({ ...machine, churn_min: event.target.value === "" ? null : Math.round(Number(event.target.value)) })}
      />
      {freezes && (
        <Field
          label="In the freezer since"
          type="datetime-local"
          value={machine.in_freezer_since?.slice(0, 16) ?? ""}
          onChange={(event) => change({ ...machine, in_freezer_since: event.target.value === "" ? null : event.target.value })}
        />
      )}
      <Checkbox checked={machine.wash_always} onChange={(always) => change({ ...machine, wash_always: always })}>
        Washed after every run
      </Checkbox>
      <Checkbox checked={machine.loud} onChange={(loud) => change({ ...machine, loud })}>
        Loud
      </Checkbox>
    </fieldset>
  );
}
