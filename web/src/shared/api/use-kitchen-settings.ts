import { useMutation, useQueryClient } from "@tanstack/react-query";

import { answer, api, type Schemas } from "./client";
import { meQuery } from "./queries";

type Changes = Omit<Schemas["KitchenSettings"], "version">;

/** Changes settings of the kitchen: only those named, one change after the other, at the version that was seen last. */
export function useKitchenSettings(done?: () => unknown) {
  const client = useQueryClient();
  return useMutation({
    scope: { id: "kitchen" },
    mutationFn: (changes: Changes) => {
      const version = client.getQueryData(meQuery.queryKey)?.version ?? 0;
      return answer(api.PATCH("/api/kitchen", { body: { version, ...changes } }));
    },
    onSuccess: async (now) => {
      client.setQueryData(meQuery.queryKey, now);
      await done?.();
    },
    onError: () => client.invalidateQueries(meQuery),
  });
}
