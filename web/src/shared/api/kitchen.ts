import { createContext, useContext } from "react";

import type { Schemas } from "./client";

/** The kitchen that this page is in, with its settings; nothing is drawn behind the door before they have come. */
export const KitchenContext = createContext<Schemas["KitchenOut"] | null>(null);

export function useKitchen(): Schemas["KitchenOut"] {
  const kitchen = useContext(KitchenContext);
  if (!kitchen) throw new Error("A screen was drawn without its kitchen.");
  return kitchen;
}
