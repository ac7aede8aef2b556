import { useMutation, useQueryClient } from "@tanstack/react-query";

import { answer, api, Offline, once, type Schemas } from "../../shared/api/client";
import { batchQuery } from "../../shared/api/queries";

type Entry = Schemas["NewEntry"];

/** Record one thing of a batch, one after the other. */
export function useRecord(batchId: number) {
  const client = useQueryClient();
  return useMutation({
    scope: { id: `batch ${batchId}` },
    mutationFn: async (entry: Entry) => {
      const asked = { params: { path: { batch_id: batchId } }, body: entry, ...once(crypto.randomUUID()) };
      return sentAgain(() => answer(api.POST("/batches/{batch_id}/entries", asked)));
    },
    onSuccess: (now) => client.setQueryData(batchQuery(batchId).queryKey, now),
  });
}

const TRIES = 3;

/** Send once more where no answer came: the key of the request keeps it from being recorded twice. */
async function sentAgain<T>(send: () => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++) {
    try {
      return await send();
    } catch (error) {
      if (!(error instanceof Offline) || tries >= TRIES) throw error;
    }
  }
}
