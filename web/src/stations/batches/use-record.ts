import { useMutation, useQueryClient } from "@tanstack/react-query";

import { answer, api, Offline, problemOf, type Schemas } from "../../shared/api/client";
import { batchQuery } from "../../shared/api/queries";

type Entry = Pick<Schemas["NewEvent"], "kind"> & Partial<Schemas["NewEvent"]>;

const PLAIN = { step: "", text: "", name: "", more: "", done: true, sure: false, device: "", counter: 0, ago_ms: 0 };

/** Record one thing of a batch, one after the other. */
export function useRecord(batchId: number) {
  const client = useQueryClient();
  return useMutation({
    scope: { id: `batch ${batchId}` },
    mutationFn: async (entry: Entry) => {
      const path = { batch_id: batchId };
      const body = { events: [{ ...PLAIN, ...entry, key: crypto.randomUUID() }] };
      const taken = await sentAgain(() => answer(api.POST("/batches/{batch_id}/events", { params: { path }, body })));
      const refused = taken.refused[0];
      if (refused) throw problemOf(refused.problem.status, refused.problem);
      return answer(api.GET("/batches/{batch_id}", { params: { path } }));
    },
    onSuccess: (now) => client.setQueryData(batchQuery(batchId).queryKey, now),
  });
}

const TRIES = 3;

/** Send once more where no answer came: the key of the event keeps it from being recorded twice. */
async function sentAgain<T>(send: () => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++) {
    try {
      return await send();
    } catch (error) {
      if (!(error instanceof Offline) || tries >= TRIES) throw error;
    }
  }
}
