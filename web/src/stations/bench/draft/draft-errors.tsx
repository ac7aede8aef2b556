import { useMutation, useQuery } from "@tanstack/react-query";
import { useNavigate } from "react-router";

import { answer, api } from "../../../shared/api/client";
import { Button } from "../../../ui/button";
import { bodyOf, type Draft, draftOf, type Edit, writtenOf } from "./draft";
import { forgetUnsent, sameAs } from "./unsent";
import type { SyncState } from "./draft-sync";
import { saveMix } from "./kept-mix";

type Props = {
  mixId: number;
  draft: Draft;
  sync: SyncState;
  /** Go on from what the server holds, with that draft, or with ours to be sent over it. */
  settle: (version: number, theirs: Draft | null) => void;
  edit: (edit: Edit) => void;
  others: (string | undefined)[];
};

/** What went wrong, in sentences, and the way out. */
export function DraftErrors(props: Props) {
  const { sync } = props;
  const sentences = props.others.filter((sentence) => sentence !== undefined);
  if (sync.state === "refused") sentences.push(sync.sentence);
  if (sync.state !== "conflict" && sentences.length === 0) return null;
  return (
    <div role="alert" className="panel not-on-paper grid gap-2 border-hot px-4 py-3">
      {sentences.map((sentence) => (
        <p key={sentence}>{sentence}</p>
      ))}
      {sync.state === "conflict" && <Conflict {...props} sentence={sync.sentence} />}
    </div>
  );
}

/** Two drafts of one mix: what sets ours apart from the one that is kept, and which of them goes on. */
function Conflict({ mixId, draft, edit, settle, sentence }: Props & { sentence: string }) {
  const navigate = useNavigate();
  const path = { params: { path: { mix_id: mixId } } };
  const both = useQuery({
    queryKey: ["conflict", mixId, writtenOf(draft)],
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
      forgetUnsent(mixId);
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
