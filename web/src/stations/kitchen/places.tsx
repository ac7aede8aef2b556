import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useState } from "react";

import { answer, api, faultAt, type Schemas } from "../../shared/api/client";
import { placesQuery } from "../../shared/api/queries";
import { useVocabulary } from "../../shared/api/vocabulary";
import { useUnits } from "../../shared/format/units";
import { Button } from "../../ui/button";
import { FaultOfAll, Field } from "../../ui/field";
import { Select } from "../../ui/select";
import { Waiting } from "../../ui/waiting";

const KINDS = ["still-freezer", "fan-freezer", "blast", "cabinet", "fridge", "room"];

/** The freezers, cabinets and chillers of the kitchen, and places of its own: where a tub can stand over time. */
export function Places() {
  const units = useUnits();
  const { places: kinds } = useVocabulary();
  const places = useQuery(placesQuery);
  const client = useQueryClient();
  const remove = useMutation({
    mutationFn: (id: number) => answer(api.DELETE("/places/{place_id}", { params: { path: { place_id: id } } })),
    onSuccess: () => client.invalidateQueries(placesQuery),
  });
  return (
    <div className="grid gap-4">
      <Waiting query={places}>
        {(all) => (
          <ul className="grid gap-1">
            {all.map((place) => (
              <li key={place.id} className="flex items-start gap-2 border-b border-line py-1">
                <span className="min-w-0 flex-1">
                  <b>{place.name}</b>, {units.setting(place.air_c)}
                  <span className="text-muted">
                    {" "}
                    {kinds.find(({ key }) => key === place.kind)?.name}
                    {place.mark && `, dial on ${place.mark}`}
                  </span>
                </span>
                <button type="button" aria-label={`Remove ${place.name}`} onClick={() => remove.mutate(place.id)} className="rounded-button p-1.5 text-muted hover:bg-steel">
                  <X size={14} aria-hidden />
                </button>
              </li>
            ))}
            {all.length === 0 && <li className="text-muted">None yet. A chest, a drawer, the car?</li>}
          </ul>
        )}
      </Waiting>
      {remove.error && <p role="alert">{remove.error.message}</p>}
      <NewPlace />
    </div>
  );
}

function NewPlace() {
  const units = useUnits();
  const client = useQueryClient();
  const { places } = useVocabulary();
  const kinds = places.filter(({ key }) => KINDS.includes(key));
  const [typed, setTyped] = useState({ name: "", kind: "still-freezer", air: units.typedTemperature(-18), mark: "" });
  const change = (changes: Partial<typeof typed>) => setTyped({ ...typed, ...changes });
  const air = units.readTemperature(typed.air);
  const add = useMutation({
    mutationFn: (body: Schemas["KitchenPlaceIn"]) => answer(api.POST("/places", { body })),
    onSuccess: async () => {
      change({ name: "", mark: "" });
      await client.invalidateQueries(placesQuery);
    },
  });
  return (
    <form
      aria-label="New place"
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (air !== null) add.mutate({ name: typed.name, kind: typed.kind as Schemas["KitchenPlaceIn"]["kind"], air_c: air, mark: typed.mark });
      }}
    >
      <div className="grid gap-3 sm:grid-cols-2">
        <Field label="What you call it" value={typed.name} maxLength={100} required placeholder="the chest, the drawer" onChange={(event) => change({ name: event.target.value })} error={faultAt(add.error, "/name")} />
        <Select
          label="A tub there stands"
          value={typed.kind}
          options={kinds}
          onChange={(kind) => change({ kind, air: units.typedTemperature(kinds.find(({ key }) => key === kind)?.air_c ?? -18) })}
        />
        <Field label={`Its air, ${units.temperatureUnit}`} value={typed.air} maxLength={8} onChange={(event) => change({ air: event.target.value })} error={air === null ? `A temperature, such as ${units.typedTemperature(-18)}.` : faultAt(add.error, "/air_c")} />
        <Field label="Its dial stands on" value={typed.mark} maxLength={40} placeholder="3 of 5" onChange={(event) => change({ mark: event.target.value })} error={faultAt(add.error, "/mark")} />
      </div>
      <FaultOfAll error={add.error} />
      <Button type="submit" kind="dark" disabled={add.isPending || air === null || typed.name.trim() === ""} className="justify-self-start">
        Add this place
      </Button>
    </form>
  );
}
