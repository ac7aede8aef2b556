import { useQuery } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useState } from "react";

import { useKitchen } from "../../shared/api/kitchen";
import { ingredientQuery } from "../../shared/api/queries";
import { PickIngredient } from "../shelf/pick-ingredient";
import { RoomForm, useRoom } from "./room-form";

/** Which ingredients Balance may bring into a mix that has none of them. */
export function BalanceRoom() {
  const kitchen = useKitchen();
  const { settings, kept, keep } = useRoom();
  const [chosen, setChosen] = useState(kitchen.may_come_in);
  return (
    <RoomForm settings={settings} kept={kept} keep={() => keep({ may_come_in: chosen })}>
      <p className="text-muted">{chosen.length > 0 ? "These, where nothing forbids them:" : "The common sugars, milk products and fibres may come in. Name your own to have only those."}</p>
      <ul className="flex flex-wrap gap-1.5 empty:hidden">
        {chosen.map((slug) => (
          <Chosen key={slug} slug={slug} drop={() => setChosen(chosen.filter((other) => other !== slug))} />
        ))}
      </ul>
      <PickIngredient label="Ingredients that may come in" picked={null} pick={(picked) => picked && !chosen.includes(picked.slug) && setChosen([...chosen, picked.slug])} />
    </RoomForm>
  );
}

function Chosen({ slug, drop }: { slug: string; drop: () => void }) {
  const name = useQuery(ingredientQuery(slug)).data?.name ?? "…";
  return (
    <li className="flex items-center gap-1 rounded-button border border-line px-2 text-sm">
      {name}
      <button type="button" aria-label={`Not ${name}`} onClick={drop} className="p-1 text-muted">
        <X size={12} aria-hidden />
      </button>
    </li>
  );
}
