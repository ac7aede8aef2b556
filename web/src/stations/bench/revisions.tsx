import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, type Schemas } from "../../api/client";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { day } from "../../ui/numbers";
import { SheetDialog } from "../../ui/sheet-dialog";
import { Waiting } from "../../ui/waiting";
import type { Edit } from "./draft";

type Props = { mixId: number; flush: () => Promise<void>; edit: (edit: Edit) => void; open: boolean; onClose: () => void };

/** The named points of a mix: a new one, what has changed since each, and back to it. */
export function Revisions({ mixId, flush, edit, open, onClose }: Props) {
  const [name, setName] = useState("");
  const [looked, setLooked] = useState<number | null>(null);
  const client = useQueryClient();
  const queryKey = ["revisions", mixId];
  const path = { params: { path: { mix_id: mixId } } };
  const revisions = useQuery({
    queryKey,
    enabled: open,
    queryFn: () => answer(api.GET("/api/mixes/{mix_id}/revisions", path)),
  });
  const keep = useMutation({
    mutationFn: async () => {
      await flush();
      return answer(api.POST("/api/mixes/{mix_id}/revisions", { ...path, body: { name } }));
    },
    onSuccess: () => {
      setName("");
      return client.invalidateQueries({ queryKey });
    },
  });
  return (
    <SheetDialog
      open={open}
      onOpenChange={(now) => !now && onClose()}
      title="Revisions"
      explanation="A revision is a named point of this mix. It stays as it is, whatever changes later."
    >
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate();
        }}
      >
        <Field label="Name of this point" value={name} required maxLength={200} onChange={(event) => setName(event.target.value)} error={keep.error?.message} />
        <Button type="submit" kind="dark" disabled={keep.isPending}>
          Keep this revision
        </Button>
      </form>
      <ol className="mt-4 grid gap-1">
        {revisions.data?.map((revision) => (
          <li key={revision.id} className="border-t border-line pt-1">
            <button
              type="button"
              aria-expanded={looked === revision.number}
              onClick={() => setLooked(looked === revision.number ? null : revision.number)}
              className="flex w-full gap-3 rounded-button px-1 py-0.5 text-left hover:bg-steel"
            >
              <span className="text-muted">{revision.number}</span>
              <span className="min-w-0 flex-1 truncate">{revision.name}</span>
              <span className="text-muted">{day(revision.kept_at)}</span>
            </button>
            {looked === revision.number && (
              <Since
                mixId={mixId}
                number={revision.number}
                flush={flush}
                restore={(found) => {
                  edit({ kind: "restore", revision: found });
                  onClose();
                }}
              />
            )}
          </li>
        ))}
      </ol>
    </SheetDialog>
  );
}

function Since(props: { mixId: number; number: number; flush: () => Promise<void>; restore: (found: Schemas["RevisionDetail"]) => void }) {
  const { mixId, number, flush } = props;
  const detail = useQuery({
    queryKey: ["revision", mixId, number, "since"],
    queryFn: async () => {
      await flush();
      return answer(api.GET("/api/mixes/{mix_id}/revisions/{number}", { params: { path: { mix_id: mixId, number } } }));
    },
    gcTime: 0,
  });
  return (
    <Waiting query={detail}>
      {(found) => (
        <div className="grid justify-items-start gap-2 px-1 pb-2">
          <p>{found.changes.length > 0 ? `Since then: ${found.said}` : found.said}</p>
          {found.changes.length > 0 && <Button onClick={() => props.restore(found)}>Go back to it</Button>}
        </div>
      )}
    </Waiting>
  );
}
