import { useMutation, useQueryClient } from "@tanstack/react-query";
import { MoreHorizontal } from "lucide-react";
import { Link, useNavigate } from "react-router";

import { answer, api, type Schemas } from "../../shared/api/client";
import { useVocabulary } from "../../shared/api/vocabulary";
import { Button, Key } from "../../ui/button";
import { Choice } from "../../ui/field";
import { Menu, MenuCheck, MenuItem, MenuLine } from "../../ui/menu";
import type { OpenDialog } from "./dialogs";
import type { Draft, Edit } from "./draft/draft";
import type { SyncState } from "./draft/draft-sync";
import { typing } from "./lines/typing";

type Props = {
  mix: Schemas["MixOut"];
  draft: Draft;
  edit: (edit: Edit) => void;
  sync: SyncState;
  make: () => void;
  making: boolean;
  saveFile: () => void;
  ask: (openDialog: OpenDialog) => void;
  notes: () => void;
  kitchenRestrictions: string[];
  based: Schemas["RevisionOut"] | undefined;
};

/** The mix's name and style, what it goes on from, whether it is kept, and what can be done with the whole of it. */
export function MixHead({ mix, draft, edit, sync, ask, ...props }: Props) {
  const { styles } = useVocabulary();
  const navigate = useNavigate();
  const client = useQueryClient();
  const path = { params: { path: { mix_id: mix.id } } };
  const archive = useMutation({
    mutationFn: () => answer(api.DELETE("/mixes/{mix_id}", path)),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ["mixes"] });
      await navigate("/bench");
    },
  });
  return (
    <header className="not-on-paper flex flex-wrap items-center gap-x-3 gap-y-2 px-4 pt-3">
      <Link to="/bench" className="inline-flex min-h-[24px] items-center text-sm text-muted underline">
        Mixes
      </Link>
      <h1 className="min-w-0">
        <input
          aria-label="Name of the mix"
          value={draft.name}
          maxLength={200}
          onChange={(event) => edit({ kind: "name", name: event.target.value })}
          {...typing(edit)}
          className="field-sizing-content max-w-[22rem] min-w-24 rounded-button border border-transparent px-1 font-name text-2xl font-bold hover:border-line"
        />
      </h1>
      <div className="w-40">
        <Choice
          label="Style"
          hideLabel
          value={draft.style ?? ""}
          options={[{ key: "", name: "no style chosen" }, ...styles]}
          onChange={(event) => edit({ kind: "style", style: event.target.value || null })}
        />
      </div>
      <ForWhom chosen={draft.restrictions} always={props.kitchenRestrictions} edit={edit} />
      <button type="button" onClick={() => ask({ what: "revisions" })} className="max-w-56 truncate text-sm text-muted underline">
        {draft.basedOn !== null ? (
          <>
            <span className="max-xl:hidden">from revision </span>
            <span className="xl:hidden">revision </span>
            {draft.basedOn}
            {props.based && <span className="max-xl:hidden"> · {props.based.name}</span>}
          </>
        ) : (
          "no revision"
        )}
      </button>
      <span className="ml-auto" />
      <SyncNote sync={sync} />
      <button type="button" onClick={props.notes} className="text-sm text-muted underline">
        notes <Key>N</Key>
      </button>
      <Menu label="More about this mix" trigger={<MoreHorizontal size={18} aria-hidden />}>
        <MenuItem onSelect={() => ask({ what: "scale" })}>
          Another size… <Key>S</Key>
        </MenuItem>
        <MenuItem onSelect={() => ask({ what: "revisions" })}>
          Revisions… <Key>K</Key>
        </MenuItem>
        <MenuItem onSelect={() => ask({ what: "table" })}>
          The table… <Key>T</Key>
        </MenuItem>
        {mix.method.length > 0 && <MenuItem onSelect={() => ask({ what: "method" })}>The recipe’s method…</MenuItem>}
        <MenuItem onSelect={() => ask({ what: "copy" })}>Copy this mix…</MenuItem>
        <MenuItem onSelect={props.saveFile}>Save as a mix file</MenuItem>
        <MenuItem onSelect={() => window.setTimeout(() => window.print())}>
          Print… <Key>Ctrl P</Key>
        </MenuItem>
        <MenuLine />
        <MenuItem onSelect={() => edit({ kind: "undo" })}>
          Undo <Key>Ctrl Z</Key>
        </MenuItem>
        <MenuItem onSelect={() => edit({ kind: "redo" })}>
          Redo <Key>Ctrl ⇧ Z</Key>
        </MenuItem>
        <MenuItem onSelect={() => ask({ what: "keys" })}>
          Keys <Key>?</Key>
        </MenuItem>
        <MenuLine />
        <MenuItem onSelect={() => archive.mutate()}>Put this mix into the archive</MenuItem>
      </Menu>
      <Button kind="hot" onClick={props.make} disabled={props.making}>
        Make it <Key>M</Key>
      </Button>
    </header>
  );
}

const WITHOUT = "without:";

function spokenWithout(key: string): string {
  return `without ${key.slice(WITHOUT.length).replaceAll("-", " ")}`;
}

/** Who must be able to eat it: restrictions of this mix, beside those that hold for the whole kitchen. */
function ForWhom({ chosen, always, edit }: { chosen: string[]; always: string[]; edit: (edit: Edit) => void }) {
  const { restrictions } = useVocabulary();
  const out = chosen.filter((key) => key.startsWith(WITHOUT));
  const names = restrictions.filter(({ key }) => chosen.includes(key) || always.includes(key)).map(({ name }) => name);
  names.push(...out.map(spokenWithout));
  const label = names.length > 0 ? names.join(", ") : "no restrictions";
  return (
    <Menu label={`For whom: ${label}`} trigger={<span className="max-w-60 truncate">{label}</span>} plain>
      <MenuLine>This mix must be</MenuLine>
      {restrictions.map(({ key, name }) => (
        <MenuCheck
          key={key}
          checked={chosen.includes(key) || always.includes(key)}
          onChange={(on) => edit({ kind: "restrictions", restrictions: on ? [...chosen, key] : chosen.filter((other) => other !== key) })}
        >
          {name}
          {always.includes(key) && <span className="text-sm text-muted">everything here is</span>}
        </MenuCheck>
      ))}
      {out.map((key) => (
        <MenuCheck key={key} checked onChange={() => edit({ kind: "restrictions", restrictions: chosen.filter((other) => other !== key) })}>
          {spokenWithout(key)}
        </MenuCheck>
      ))}
    </Menu>
  );
}

function SyncNote({ sync }: { sync: SyncState }) {
  const note = {
    saved: "saved",
    saving: "saving…",
    offline: "no connection: saved in this browser, sent later",
    refused: "not saved",
    conflict: "not saved",
  }[sync.state];
  return (
    <span role="status" className={`max-w-31 text-right text-sm leading-tight ${sync.state === "saved" || sync.state === "saving" ? "text-muted" : "text-hot"}`}>
      {note}
    </span>
  );
}
