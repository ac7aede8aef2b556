import { useMutation } from "@tanstack/react-query";
import { useEffect } from "react";
import { useNavigate } from "react-router";

import { answer, api, savedFile, type Schemas } from "../../shared/api/client";
import { useOnce } from "../../shared/api/use-once";
import type { PrepareLine } from "../shelf/preparation/preparing";
import type { Draft } from "./draft/draft";
import type { DraftReading } from "./draft/use-analysis";

/** What takes the mix elsewhere as it is kept: what is not kept yet is sent first, and what goes wrong is said. */
export function useMixActions(mix: Schemas["MixOut"], draft: Draft, reading: DraftReading | undefined, flush: () => Promise<void>) {
  const navigate = useNavigate();
  const once = useOnce();
  const make = useMutation({
    mutationFn: async () => {
      await flush();
      return answer(api.POST("/mixes/{mix_id}/batches", { params: { path: { mix_id: mix.id } }, ...once(mix.id) }));
    },
    onSuccess: (batch) => navigate(`/batches/${batch.id}`),
  });
  const prepare = useMutation({
    mutationFn: async (at: number) => {
      const line = draft.lines[at];
      if (!line) return;
      await flush();
      const state: PrepareLine = {
        start: { slug: line.ingredient, name: reading?.lines[line.key]?.name ?? line.ingredient, typed: line.typed },
        back: { mixId: mix.id, at },
      };
      await navigate("/shelf/preparations", { state });
    },
  });
  const saveFile = useMutation({
    mutationFn: async () => {
      await flush();
      await savedFile(`/mixes/${mix.id}/file`);
    },
  });
  const failed = [make, prepare, saveFile].find(({ isError }) => isError);
  useEffect(() => failed?.reset(), [draft]); // what went wrong was said of the draft before
  return { make, prepare, saveFile, errors: [make, prepare, saveFile].map(({ error }) => error?.message) };
}
