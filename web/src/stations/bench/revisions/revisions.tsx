import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { answer, api, type Schemas } from "../../../shared/api/client";
import { batchesOfMixQuery, revisionsQuery } from "../../../shared/api/queries";
import { useUnits } from "../../../shared/format/units";
import { Button } from "../../../ui/button";
import { Field, inputClass } from "../../../ui/field";
import { SheetDialog } from "../../../ui/sheet-dialog";
import { Waiting } from "../../../ui/waiting";
import { Select } from "../../../ui/select";
import { useBenchActions, useComparison, useDraft } from "../bench-context";
import { type Branch, treeOf } from "./revision-tree";

type Revision = Schemas["RevisionOut"];
type Props = { open: boolean; onClose: () => void };

/** The named points of a mix as they grew from each other: a new one, what sets any two apart, and back to one. */
export function Revisions(props: Props) {
  return (
    <SheetDialog
      open={props.open}
      onOpenChange={(now) => !now && props.onClose()}
      title="Revisions"
      explanation="A revision is a named point of this mix. It stays as it is, whatever changes later."
      wide
    >
      <div className="grid grid-cols-[minmax(0,1fr)] gap-4">
        <KeepRevision />
        <Tree onClose={props.onClose} />
      </div>
    </SheetDialog>
  );
}

function KeepRevision() {
  const { mix, flush, edit } = useBenchActions();
  const [name, setName] = useState("");
  const [note, setNote] = useState("");
  const client = useQueryClient();
  const keep = useMutation({
    mutationFn: async () => {
      await flush();
      return answer(api.POST("/mixes/{mix_id}/revisions", { params: { path: { mix_id: mix.id } }, body: { name, note } }));
    },
    onSuccess: (kept) => {
      setName("");
      setNote("");
      edit({ kind: "based", on: kept.number });
      return client.invalidateQueries(revisionsQuery(mix.id));
    },
  });
  return (
    <form
      className="grid items-start gap-x-3 gap-y-2 grid-cols-[minmax(0,1fr)] sm:grid-cols-[1fr_1.4fr_auto]"
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate();
      }}
    >
      <Field label="Name of this point" value={name} required autoFocus maxLength={200} onChange={(event) => setName(event.target.value)} error={keep.error?.message} />
      <label className="grid gap-1">
        <span className="font-semibold">Note</span>
        <textarea value={note} rows={1} maxLength={2000} onChange={(event) => setNote(event.target.value)} className={`${inputClass} field-sizing-content max-h-32`} />
      </label>
      <Button type="submit" kind="dark" disabled={keep.isPending} className="sm:mt-6.5">
        Keep this revision
      </Button>
    </form>
  );
}

function Tree({ onClose }: { onClose: () => void }) {
  const { mix } = useBenchActions();
  const { basedOn } = useDraft().draft;
  const units = useUnits();
  const revisions = useQuery(revisionsQuery(mix.id));
  const made = useQuery(batchesOfMixQuery(mix.id));
  const [looked, setLooked] = useState<number | null>(null);
  return (
    <Waiting query={revisions}>
      {(all) => (
        <ul aria-label="Revisions, each under the one it was made from">
          {treeOf(all).map(({ revision, depth, from }) => (
            <li key={revision.id} className="border-t border-line py-1" style={{ paddingLeft: `${depth * 1.5}rem` }}>
              <button
                type="button"
                aria-expanded={looked === revision.number}
                onClick={() => setLooked(looked === revision.number ? null : revision.number)}
                className="flex min-h-7 w-full items-baseline gap-3 rounded-button px-1 text-left hover:bg-steel"
              >
                <b>{revision.number}</b>
                <span className="min-w-0 flex-1 truncate">
                  {revision.name}
                  {revision.number === basedOn && <span className="text-sm text-muted"> · the draft was made from this one</span>}
                  {from !== null && <span className="text-sm text-muted"> · branches off {from}</span>}
                </span>
                <span className="text-sm text-muted">{units.day(revision.kept_at)}</span>
              </button>
              {revision.note && <p className="px-1 text-sm whitespace-pre-wrap text-muted">{revision.note}</p>}
              <Made batches={made.data?.filter((batch) => batch.revision === revision.number) ?? []} />
              {looked === revision.number && <Details revision={revision} others={all} onClose={onClose} />}
            </li>
          ))}
          {all.length === 0 && <li className="text-muted">None yet. Keep one before a change that you may want to take back.</li>}
        </ul>
      )}
    </Waiting>
  );
}

/** The batches made of a revision: their sheets say what went in. */
function Made({ batches }: { batches: Schemas["BatchOfMix"][] }) {
  const units = useUnits();
  if (batches.length === 0) return null;
  return (
    <p className="px-1 text-sm">
      Made{" "}
      {batches.map((batch, at) => (
        <span key={batch.id}>
          {at > 0 && ", "}
          <Link to={`/batches/${batch.id}`} className="underline">
            {units.day(batch.begun_at)}, batch {batch.number}
          </Link>
        </span>
      ))}
    </p>
  );
}

const NOW = "now";

type DetailsProps = { revision: Revision; others: Branch["revision"][]; onClose: () => void };

/** What sets a revision apart from the mix as it is now, or from another revision. */
function Details({ revision, others, onClose }: DetailsProps) {
  const { mix, flush, edit, compareWith } = useBenchActions();
  const { revision: compared } = useComparison().compared;
  const [against, setAgainst] = useState(NOW);
  const { number } = revision;
  const detail = useQuery({
    queryKey: ["revision", mix.id, number, "upto", against],
    queryFn: async () => {
      await flush();
      const query = against === NOW ? {} : { upto: Number(against) };
      return answer(api.GET("/mixes/{mix_id}/revisions/{number}", { params: { path: { mix_id: mix.id, number }, query } }));
    },
    gcTime: 0,
  });
  return (
    <div className="grid justify-items-start gap-2 px-1 py-2">
      <div className="w-64">
        <Select
          label="From it to"
          value={against}
          options={[
            { key: NOW, name: "the mix as it is now" },
            ...others.filter((other) => other.number !== number).map((other) => ({ key: String(other.number), name: `${other.number} · ${other.name}` })),
          ]}
          onChange={setAgainst}
        />
      </div>
      <Waiting query={detail}>
        {(found) => (
          <>
            <p data-difference>{found.message}</p>
            <div className="flex flex-wrap gap-2">
              {(found.changes.length > 0 || against !== NOW) && (
                <Button
                  onClick={() => {
                    edit({ kind: "restore", revision: found });
                    onClose();
                  }}
                >
                  Go back to {number}
                </Button>
              )}
              <Button
                onClick={() => {
                  compareWith({ revision: compared === number ? null : number });
                  onClose();
                }}
              >
                {compared === number ? "Stop comparing with it" : "Compare with the mix"}
              </Button>
            </div>
          </>
        )}
      </Waiting>
    </div>
  );
}
