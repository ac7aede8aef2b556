import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { MoreHorizontal } from "lucide-react";
import { useState } from "react";
import { Link, useNavigate } from "react-router";

import { answer, api } from "../../api/client";
import { useVocabulary } from "../../api/queries";
import { Button, Key } from "../../ui/button";
import { Choice, Field } from "../../ui/field";
import { Menu, MenuItem, MenuLine } from "../../ui/menu";
import { day } from "../../ui/numbers";
import { SheetDialog } from "../../ui/sheet-dialog";
import type { Draft, Edit } from "./draft";
import { NewMix } from "./new-mix";
import type { Keeping } from "./use-keeping";

/** The mix's name and style, whether it is kept, and what can be done with the whole of it. */
export function MixHead(props: {
  mixId: number;
  draft: Draft;
  edit: (edit: Edit) => void;
  keeping: Keeping;
  make: () => void;
  making: boolean;
  askKeys: () => void;
  flush: () => Promise<void>;
}) {
  const { mixId, draft, edit, keeping } = props;
  const { styles } = useVocabulary();
  const navigate = useNavigate();
  const client = useQueryClient();
  const [dialog, setDialog] = useState<"copy" | "revisions" | null>(null);
  const putAway = useMutation({
    mutationFn: () => answer(api.DELETE("/api/mixes/{mix_id}", { params: { path: { mix_id: mixId } } })),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ["mixes"] });
      await navigate("/bench");
    },
  });
  return (
    <header className="flex flex-wrap items-center gap-x-3 gap-y-2 px-4 pt-3">
      <Link to="/bench" className="text-sm text-muted underline">
        Mixes
      </Link>
      <h1 className="min-w-0">
        <input
          aria-label="Name of the mix"
          value={draft.name}
          maxLength={200}
          onChange={(event) => edit({ kind: "name", name: event.target.value })}
          className="field-sizing-content max-w-[22rem] min-w-24 rounded-button border border-transparent px-1 font-name text-2xl font-bold hover:border-line"
        />
      </h1>
      <div className="w-44">
        <Choice
          label="Style"
          hideLabel
          value={draft.style ?? ""}
          options={[{ key: "", name: "no style chosen" }, ...styles]}
          onChange={(event) => edit({ kind: "style", style: event.target.value || null })}
        />
      </div>
      <span className="ml-auto" />
      <KeptNote keeping={keeping} />
      <Menu label="More about this mix" trigger={<MoreHorizontal size={18} aria-hidden />}>
        <MenuItem onSelect={() => setDialog("copy")}>Copy this mix…</MenuItem>
        <MenuItem onSelect={() => setDialog("revisions")}>Keep a revision…</MenuItem>
        <MenuItem onSelect={() => void props.flush().then(() => window.location.assign(`/api/mixes/${mixId}/file`))}>Save as a mix file</MenuItem>
        <MenuLine />
        <MenuItem onSelect={() => edit({ kind: "undo" })}>
          Undo <Key>Ctrl Z</Key>
        </MenuItem>
        <MenuItem onSelect={() => edit({ kind: "redo" })}>
          Redo <Key>Ctrl ⇧ Z</Key>
        </MenuItem>
        <MenuItem onSelect={props.askKeys}>
          Keys <Key>?</Key>
        </MenuItem>
        <MenuLine />
        <MenuItem onSelect={() => putAway.mutate()}>Put this mix away</MenuItem>
      </Menu>
      <Button kind="hot" onClick={props.make} disabled={props.making}>
        Make it <Key>M</Key>
      </Button>
      <NewMix open={dialog === "copy"} onClose={() => setDialog(null)} copyOf={{ id: mixId, name: draft.name, flush: props.flush }} />
      <Revisions mixId={mixId} flush={props.flush} open={dialog === "revisions"} onClose={() => setDialog(null)} />
    </header>
  );
}

function KeptNote({ keeping }: { keeping: Keeping }) {
  const said = {
    kept: "kept",
    keeping: "keeping…",
    offline: "no connection: your edits are kept here and sent when it is back",
    refused: "not kept",
    conflict: "not kept",
  }[keeping.state];
  return (
    <span role="status" className={`text-sm ${keeping.state === "kept" || keeping.state === "keeping" ? "text-muted" : "text-hot"}`}>
      {said}
    </span>
  );
}

function Revisions(props: { mixId: number; flush: () => Promise<void>; open: boolean; onClose: () => void }) {
  const { mixId, flush, open, onClose } = props;
  const [name, setName] = useState("");
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
          <li key={revision.id} className="flex gap-3 border-t border-line pt-1">
            <span className="text-muted">{revision.number}</span>
            <span className="min-w-0 flex-1 truncate">{revision.name}</span>
            <span className="text-muted">{day(revision.kept_at)}</span>
          </li>
        ))}
      </ol>
    </SheetDialog>
  );
}
