import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
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
    onSuccess: (batch) => navigate(`/make/${batch.id}`),
  });
  const prepare = useMutation({
    mutationFn: async (at: number) => {
      const line = draft.lines[at];
      if (!line) return;
      await flush();
      const state: PrepareLine = {
        start: { slug: line.ingredient, name: reading?.lines[line.key]?.name ?? line.ingredient, typed: line.typed },
        back: { mixId: mix.id, at, mix: draft.lines.map(({ key, ingredient }) => ({ ingredient, grams: reading?.lines[key]?.grams ?? 0 })) },
      };
      await navigate("/shelf/preparations", { state });
    },
  });
  const saveFile = useMutation({
    mutationFn: async (prices: boolean) => {
      await flush();
      await savedFile(`/mixes/${mix.id}/file?prices=${prices}`);
    },
  });
  const said = useSaidOf(draft, [make.error, prepare.error, saveFile.error]);
  return { make, prepare, saveFile, errors: said };
}

/** What went wrong with a draft; it is said no more once the draft is another. */
function useSaidOf(draft: Draft, errors: (Error | null)[]): (string | undefined)[] {
  const [said, setSaid] = useState<{ of: Draft; errors: (Error | null)[] }>({ of: draft, errors: [] });
  if (errors.some((error, at) => error !== (said.errors[at] ?? null))) setSaid({ of: draft, errors });
  return said.of === draft ? said.errors.map((error) => error?.message) : [];
}
