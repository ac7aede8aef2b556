import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useState } from "react";

import { answer, api, faultAt, type Schemas } from "../../shared/api/client";
import { vesselsQuery } from "../../shared/api/queries";
import { useVocabulary } from "../../shared/api/vocabulary";
import { readNumber } from "../../shared/format/numbers";
import { type Units, useUnits } from "../../shared/format/units";
import { Button } from "../../ui/button";
import { Checkbox } from "../../ui/checkbox";
import { FaultOfAll, Field } from "../../ui/field";
import { Select } from "../../ui/select";
import { Waiting } from "../../ui/waiting";

const SHAPES = [
  { key: "cylinder", name: "round" },
  { key: "box", name: "with four sides" },
] as const;

/** The tubs and dishes of the kitchen: what hardens and is served in them depends on their shape and wall. */
export function Vessels() {
  const units = useUnits();
  const vessels = useQuery(vesselsQuery);
  const client = useQueryClient();
  const remove = useMutation({
    mutationFn: (id: number) => answer(api.DELETE("/vessels/{vessel_id}", { params: { path: { vessel_id: id } } })),
    onSuccess: () => client.invalidateQueries(vesselsQuery),
  });
  return (
    <div className="grid gap-4">
      <Waiting query={vessels}>
        {(all) => (
          <ul className="grid gap-1">
            {all.map((vessel) => (
              <li key={vessel.id} className="flex items-start gap-2 border-b border-line py-1">
                <span className="min-w-0 flex-1">
                  <b>{vessel.name}</b>, {units.number(vessel.litres, 2)} L <span className="text-muted">{described(vessel, units)}</span>
                </span>
                <button type="button" aria-label={`Remove ${vessel.name}`} onClick={() => remove.mutate(vessel.id)} className="rounded-button p-1.5 text-muted hover:bg-steel">
                  <X size={14} aria-hidden />
                </button>
              </li>
            ))}
            {all.length === 0 && <li className="text-muted">None of your own yet; the Bench knows a few usual ones.</li>}
          </ul>
        )}
      </Waiting>
      {remove.error && <p role="alert">{remove.error.message}</p>}
      <NewVessel />
    </div>
  );
}

function described(vessel: Schemas["VesselOut"], units: Units): string {
  const across = vessel.shape === "box" ? `${vessel.length_mm} × ${vessel.width_mm}` : `${vessel.diameter_mm} across`;
  const wall = vessel.wall_g > 0 ? `${vessel.wall}, ${units.mass(vessel.wall_g)}` : vessel.wall;
  return `${across}, filled ${vessel.height_mm} mm high, ${wall}, ${vessel.lid ? "with a lid" : "open"}`;
}

const EMPTY = { name: "", shape: "cylinder" as "cylinder" | "box", across: "110", length: "200", width: "150", height: "85", wall: "plastic" as Schemas["VesselIn"]["wall"], lid: true, wall_g: "0" };

function NewVessel() {
  const units = useUnits();
  const client = useQueryClient();
  const { walls } = useVocabulary();
  const [typed, setTyped] = useState(EMPTY);
  const change = (changes: Partial<typeof typed>) => setTyped({ ...typed, ...changes });
  const add = useMutation({
    mutationFn: (body: Schemas["VesselIn"]) => answer(api.POST("/vessels", { body })),
    onSuccess: async () => {
      setTyped(EMPTY);
      await client.invalidateQueries(vesselsQuery);
    },
  });
  const box = typed.shape === "box";
  const body = bodyOf(typed, units);
  return (
    <form
      aria-label="New tub"
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (body) add.mutate(body);
      }}
    >
      <div className="grid grid-cols-2 items-start gap-3 sm:grid-cols-4">
        <div className="col-span-2">
          <Field label="What you call it" value={typed.name} maxLength={100} placeholder="the tall litre" onChange={(event) => change({ name: event.target.value })} error={faultAt(add.error, "/name")} />
        </div>
        <Select label="Shape" value={typed.shape} options={SHAPES} onChange={(key) => change({ shape: key === "box" ? "box" : "cylinder" })} />
        <Select label="Wall" value={typed.wall} options={walls} onChange={(key) => change({ wall: key as Schemas["VesselIn"]["wall"] })} />
        {box ? (
          <>
            <Field label="Long, mm" value={typed.length} inputMode="decimal" maxLength={6} onChange={(event) => change({ length: event.target.value })} error={faultAt(add.error, "/length_mm")} />
            <Field label="Wide, mm" value={typed.width} inputMode="decimal" maxLength={6} onChange={(event) => change({ width: event.target.value })} error={faultAt(add.error, "/width_mm")} />
          </>
        ) : (
          <Field label="Across, mm" value={typed.across} inputMode="decimal" maxLength={6} onChange={(event) => change({ across: event.target.value })} error={faultAt(add.error, "/diameter_mm")} />
        )}
        <Field label="Filled, mm high" value={typed.height} inputMode="decimal" maxLength={6} onChange={(event) => change({ height: event.target.value })} error={faultAt(add.error, "/height_mm")} />
        <Field label={`Empty, ${units.massUnit}`} value={typed.wall_g} inputMode="decimal" maxLength={7} onChange={(event) => change({ wall_g: event.target.value })} error={faultAt(add.error, "/wall_g")} />
      </div>
      <Checkbox checked={typed.lid} onChange={(lid) => change({ lid })}>
        with a lid
      </Checkbox>
      <p className="text-sm text-muted">What it weighs empty matters with glass and steel that go warm into the freezer; 0 leaves it out.</p>
      <FaultOfAll error={add.error} />
      <Button type="submit" kind="dark" disabled={add.isPending || body === null} className="justify-self-start">
        Add this tub
      </Button>
    </form>
  );
}

/** What is sent, null while something cannot be read. */
function bodyOf(typed: typeof EMPTY, units: Units): Schemas["VesselIn"] | null {
  const { name, shape, wall, lid } = typed;
  const [height_mm, wall_g] = [readNumber(typed.height), units.readMass(typed.wall_g)];
  const [diameter_mm, length_mm, width_mm] = shape === "box" ? [null, readNumber(typed.length), readNumber(typed.width)] : [readNumber(typed.across), null, null];
  const sized = shape === "box" ? length_mm !== null && width_mm !== null : diameter_mm !== null;
  return name.trim() && sized && height_mm !== null && wall_g !== null ? { name, shape, wall, lid, diameter_mm, length_mm, width_mm, height_mm, wall_g } : null;
}
