import { X } from "lucide-react";
import { useState } from "react";

import { useKitchen } from "../../shared/api/kitchen";
import { PickIngredient } from "../shelf/pick-ingredient";
import { RoomForm, useRoom } from "./room-form";

/** Which ingredients Balance may bring into a mix that has none of them. */
export function BalanceRoom() {
  const kitchen = useKitchen();
  const { settings, kept, keep } = useRoom();
  const [chosen, setChosen] = useState(kitchen.may_come_in);
  const spoken = (slug: string) => slug.replaceAll("-", " ");
  return (
    <RoomForm settings={settings} kept={kept} keep={() => keep({ may_come_in: chosen })}>
      <p className="text-muted">{chosen.length > 0 ? "These, where nothing forbids them:" : "The common sugars, milk products and fibres. Name your own to have only those."}</p>
      <ul className="flex flex-wrap gap-1.5 empty:hidden">
        {chosen.map((slug) => (
          <li key={slug} className="flex items-center gap-1 rounded-button border border-line px-2 text-sm">
            {spoken(slug)}
            <button type="button" aria-label={`Not ${spoken(slug)}`} onClick={() => setChosen(chosen.filter((other) => other !== slug))} className="p-1 text-muted">
              <X size={12} aria-hidden />
            </button>
          </li>
        ))}
      </ul>
      <PickIngredient label="Ingredients that may come in" picked={null} pick={(picked) => picked && !chosen.includes(picked.slug) && setChosen([...chosen, picked.slug])} />
    </RoomForm>
  );
}
