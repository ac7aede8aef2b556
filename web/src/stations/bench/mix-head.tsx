import { useMutation, useQueryClient } from "@tanstack/react-query";
import { MoreHorizontal } from "lucide-react";
import { useState } from "react";
import { Link, useNavigate } from "react-router";

import { answer, api, type Schemas } from "../../api/client";
import { useVocabulary } from "../../api/queries";
import { Button, Key } from "../../ui/button";
import { Choice } from "../../ui/field";
import { Menu, MenuCheck, MenuItem, MenuLine } from "../../ui/menu";
import { SheetDialog } from "../../ui/sheet-dialog";
import type { Draft, Edit } from "./draft";
import { NewMix } from "./new-mix";
import { Revisions } from "./revisions";
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
  kitchenRestrictions: string[];
  mix: Schemas["MixOut"];
}) {
  const { mixId, draft, edit, keeping } = props;
  const { styles } = useVocabulary();
  const navigate = useNavigate();
  const client = useQueryClient();
  const [dialog, setDialog] = useState<"copy" | "revisions" | "method" | null>(null);
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
      <ForWhom chosen={draft.restrictions} always={props.kitchenRestrictions} edit={edit} />
      <span className="ml-auto" />
      <KeptNote keeping={keeping} />
      <Menu label="More about this mix" trigger={<MoreHorizontal size={18} aria-hidden />}>
        <MenuItem onSelect={() => setDialog("copy")}>Copy this mix…</MenuItem>
        <MenuItem onSelect={() => setDialog("revisions")}>Revisions…</MenuItem>
        {props.mix.method.length > 0 && <MenuItem onSelect={() => setDialog("method")}>The recipe’s method…</MenuItem>}
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
      <Method mix={props.mix} open={dialog === "method"} onClose={() => setDialog(null)} />
      <Revisions mixId={mixId} flush={props.flush} edit={edit} open={dialog === "revisions"} onClose={() => setDialog(null)} />
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

/** What the recipe said to do, by stage, as it was pasted. */
function Method({ mix, open, onClose }: { mix: Schemas["MixOut"]; open: boolean; onClose: () => void }) {
  const { stages } = useVocabulary();
  const said = [mix.servings && `Serves ${mix.servings}.`, mix.makes && `Makes ${mix.makes}.`].filter(Boolean).join(" ");
  const steps = mix.method;
  return (
    <SheetDialog open={open} onOpenChange={(now) => !now && onClose()} title="The recipe’s method" wide {...(said ? { explanation: said } : {})}>
      <ol className="grid gap-1">
        {steps.map((step, index) => (
          <li key={index}>
            {step.stage !== steps[index - 1]?.stage && (
              <h3 className="pt-2">{stages.find(({ key }) => key === step.stage)?.name ?? "To begin"}</h3>
            )}
            {step.text}
          </li>
        ))}
      </ol>
    </SheetDialog>
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
