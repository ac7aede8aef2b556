import type { Schemas } from "../../shared/api/client";
import type { Draft, Edit } from "./draft/draft";
import type { DraftReading } from "./draft/use-analysis";
import { KeysHelp } from "./keys-help";
import { CompositionTable } from "./lines/composition-table";
import { LineDialog } from "./lines/line-dialog";
import { ReplaceDialog } from "./lines/replace-dialog";
import { Method } from "./method";
import { NewMix } from "./mixes/new-mix";
import { Revisions } from "./revisions/revisions";
import { ScaleDialog } from "./size/scale-dialog";

/** The dialog that is open over the Bench, one at a time. */
export type OpenDialog =
  | { what: "keys" | "scale" | "table" | "revisions" | "copy" | "method" }
  | { what: "look" | "replace"; key: string }
  | null;

type Props = {
  openDialog: OpenDialog;
  close: () => void;
  mix: Schemas["MixOut"];
  draft: Draft;
  reading: DraftReading | undefined;
  me: Schemas["KitchenOut"];
  edit: (edit: Edit) => void;
  flush: () => Promise<void>;
  prepare: (at: number) => void;
  compared: number | null;
  compareWith: (revision: number | null) => void;
};

export function BenchDialogs(props: Props) {
  const { openDialog, close, mix, draft, reading, edit, flush } = props;
  if (!openDialog) return null;
  const keyOf = (what: "look" | "replace") => (openDialog.what === what ? openDialog.key : null);
  return (
    <>
      <KeysHelp open={openDialog.what === "keys"} onClose={close} />
      <ScaleDialog draft={draft} reading={reading} me={props.me} edit={edit} open={openDialog.what === "scale"} onClose={close} />
      <CompositionTable draft={draft} open={openDialog.what === "table"} onClose={close} />
      <NewMix open={openDialog.what === "copy"} onClose={close} copyOf={{ id: mix.id, name: draft.name, flush }} />
      <Method mix={mix} open={openDialog.what === "method"} onClose={close} />
      <Revisions {...props} open={openDialog.what === "revisions"} onClose={close} />
      <LineDialog draft={draft} lineKey={keyOf("look")} edit={edit} prepare={props.prepare} onClose={close} />
      <ReplaceDialog draft={draft} lineKey={keyOf("replace")} reading={reading} edit={edit} onClose={close} />
    </>
  );
}
