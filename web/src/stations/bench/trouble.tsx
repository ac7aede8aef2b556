import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";

import { answer, api } from "../../api/client";
import { mixQuery } from "../../api/queries";
import { Button } from "../../ui/button";
import type { Draft } from "./draft";
import { forgetUnsent } from "./unsent";
import { bodyToSave, type Keeping } from "./use-keeping";

/** What went wrong, in sentences, and the way out. */
export function Trouble(props: { mixId: number; draft: Draft; keeping: Keeping; others: (string | undefined)[] }) {
  const { keeping } = props;
  const sentences = props.others.filter((sentence) => sentence !== undefined);
  if (keeping.state === "refused") sentences.push(keeping.sentence);
  if (keeping.state !== "conflict" && sentences.length === 0) return null;
  return (
    <div role="alert" className="panel grid gap-2 border-hot px-4 py-3">
      {sentences.map((sentence) => (
        <p key={sentence}>{sentence}</p>
      ))}
      {keeping.state === "conflict" && <Conflict mixId={props.mixId} draft={props.draft} sentence={keeping.sentence} />}
    </div>
  );
}

function Conflict({ mixId, draft, sentence }: { mixId: number; draft: Draft; sentence: string }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const copy = useMutation({
    mutationFn: async () => {
      const made = await answer(api.POST("/api/mixes", { body: { name: `${draft.name} (mine)`.slice(0, 200), style: draft.style } }));
      const body = bodyToSave({ ...draft, name: made.name }, made.version);
      await answer(api.PUT("/api/mixes/{mix_id}", { params: { path: { mix_id: made.id } }, body }));
      forgetUnsent(mixId);
      return made;
    },
    onSuccess: (made) => navigate(`/bench/${made.id}`),
  });
  function showTheirs() {
    forgetUnsent(mixId);
    void client.resetQueries({ queryKey: mixQuery(mixId).queryKey });
  }

  return (
    <div className="flex flex-wrap items-center gap-3">
      <p className="mr-auto">{copy.error?.message ?? sentence}</p>
      <Button kind="dark" onClick={() => copy.mutate()} disabled={copy.isPending}>
        Keep mine as a copy
      </Button>
      <Button onClick={showTheirs}>Show theirs</Button>
    </div>
  );
}
