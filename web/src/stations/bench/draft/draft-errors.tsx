import { useMutation, useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";

import { answer, api } from "../../../shared/api/client";
import { Button } from "../../../ui/button";
import { useBenchActions, useDraft } from "../bench-context";
import { bodyOf, draftOf, writtenOf } from "./draft";
import { forgetUnsent, sameAs } from "./unsent";
import { saveMix } from "./kept-mix";

/** What went wrong, in sentences, and the way out. */
export function DraftErrors() {
  const { errors, synced } = useDraft();
  const sentences = errors.filter((sentence) => sentence !== undefined);
  if (synced.state === "refused") sentences.push(synced.sentence);
  if (synced.state !== "conflict" && sentences.length === 0) return null;
  return (
    <div role="alert" className="panel not-on-paper grid gap-2 border-hot px-4 py-3">
      {sentences.map((sentence) => (
        <p key={sentence}>{sentence}</p>
      ))}
      {synced.state === "conflict" && <Conflict sentence={synced.sentence} />}
    </div>
  );
}

/** Two drafts of one mix: what sets ours apart from the one that is kept, and which of them goes on. */
function Conflict({ sentence }: { sentence: string }) {
  const { mix, edit, settle } = useBenchActions();
  const { draft } = useDraft();
  const navigate = useNavigate();
  const path = { params: { path: { mix_id: mix.id } } };
  const both = useQuery({
    queryKey: ["conflict", mix.id, writtenOf(draft)],
    queryFn: async () => {
      const theirs = await answer(api.GET("/mixes/{mix_id}", path));
      const ours = await answer(api.POST("/mixes/{mix_id}/differences", { ...path, body: bodyOf(draft) }));
      return { theirs, message: sameAs(theirs, draft) ? null : ours.message };
    },
    gcTime: 0,
  });
  const copy = useMutation({
    mutationFn: async () => {
      const made = await answer(api.POST("/mixes", { body: { name: `${draft.name} (mine)`.slice(0, 200), style: draft.style } }));
      await saveMix(made.id, { ...draft, name: made.name, basedOn: null }, made.version);
      forgetUnsent(mix.id);
      return made;
    },
    onSuccess: (made) => navigate(`/bench/${made.id}`),
  });
  const theirs = both.data?.theirs;

  function takeTheirs() {
    if (!theirs) return;
    const adopted = draftOf(theirs);
    settle(theirs.version, adopted);
    edit({ kind: "adopt", draft: adopted });
  }

  return (
    <div className="grid gap-2">
      <p>
        {copy.error?.message ?? sentence}{" "}
        {both.data && (both.data.message === null ? "It is the same as yours here." : <>Yours, compared with what is saved now: {both.data.message}</>)}
        {both.error?.message}
      </p>
      <div className="flex flex-wrap gap-3">
        <Button kind="dark" onClick={takeTheirs} disabled={!theirs}>
          Take theirs
        </Button>
        <Button onClick={() => theirs && settle(theirs.version, null)} disabled={!theirs}>
          Keep mine instead
        </Button>
        <Button onClick={() => copy.mutate()} disabled={copy.isPending}>
          Keep mine as a copy
        </Button>
        <span className="self-center text-sm text-muted">Undo brings yours back after “Take theirs”.</span>
      </div>
    </div>
  );
}
