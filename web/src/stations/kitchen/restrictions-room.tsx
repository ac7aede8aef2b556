import { useState } from "react";

import { useKitchen } from "../../shared/api/kitchen";
import { useVocabulary } from "../../shared/api/vocabulary";
import { Checkbox } from "../../ui/checkbox";
import { changed } from "../../ui/changed";
import { Select } from "../../ui/select";
import { RoomForm, useRoom } from "./room-form";

/** Who must be able to eat all that is made here. */
export function RestrictionsRoom() {
  const kitchen = useKitchen();
  const { restrictions, regions } = useVocabulary();
  const { settings, kept, keep } = useRoom();
  const [chosen, setChosen] = useState(kitchen.restrictions);
  const [region, setRegion] = useState(kitchen.region);
  return (
    <RoomForm settings={settings} kept={kept} keep={() => keep({ ...changed({ restrictions: chosen, region }, kitchen) })}>
      <fieldset className="grid gap-2">
        <legend className="pb-1 font-semibold">Everything made here must be</legend>
        <div className="grid gap-1.5 sm:grid-cols-2">
          {restrictions.map(({ key, name }) => (
            <Checkbox key={key} checked={chosen.includes(key)} onChange={(on) => setChosen(on ? [...chosen, key] : chosen.filter((other) => other !== key))}>
              {name}
            </Checkbox>
          ))}
        </div>
      </fieldset>
      <div className="max-w-72">
        <Select label="Cautions and labels go by the rules of" value={region} options={regions} onChange={setRegion} />
      </div>
      <p className="text-muted">It is told wherever something offends it. For allergies, the packs and your own care decide, not this list. For the rest, local codes and licensed practice do.</p>
    </RoomForm>
  );
}
