import { useQuery } from "@tanstack/react-query";

import { sessionQuery } from "./api/queries";

/** Whether who is signed in may see prices: fields for them are shown to nobody else. */
export function useSeesPrices(): boolean {
  return useQuery(sessionQuery).data?.sees_prices ?? false;
}
