import { useMutation, useQueryClient } from "@tanstack/react-query";

import { answer, api, ifMatch, type Schemas } from "./client";
import { kitchenQuery } from "./queries";

/** Changes settings of the kitchen: only those named, one change after the other, at the version that was seen last. */
export function useKitchenSettings(done?: () => unknown) {
  const client = useQueryClient();
  return useMutation({
    scope: { id: "kitchen" },
    mutationFn: (changes: Schemas["KitchenSettings"]) => {
      const version = client.getQueryData(kitchenQuery.queryKey)?.version ?? 0;
      return answer(api.PATCH("", { body: changes, ...ifMatch(version) }));
    },
    onSuccess: async (now) => {
      client.setQueryData(kitchenQuery.queryKey, now);
      await done?.();
    },
    onError: () => client.invalidateQueries(kitchenQuery),
  });
}
