import { type OpenDialog, useBenchActions, useDraft } from "./bench-context";
import { KeysHelp } from "./keys-help";
import { CompositionTable } from "./lines/composition-table";
import { LineDialog } from "./lines/line-dialog";
import { ReplaceDialog } from "./lines/replace-dialog";
import { Method } from "./method";
import { NewMix } from "./mixes/new-mix";
import { Revisions } from "./revisions/revisions";
import { ScaleDialog } from "./size/scale-dialog";

export function BenchDialogs({ dialog }: { dialog: OpenDialog }) {
  const { mix, ask, flush } = useBenchActions();
  const { draft } = useDraft();
  if (!dialog) return null;
  const close = () => ask(null);
  const keyOf = (what: "look" | "replace") => (dialog.what === what ? dialog.key : null);
  return (
    <>
      <KeysHelp open={dialog.what === "keys"} onClose={close} />
      <ScaleDialog open={dialog.what === "scale"} onClose={close} />
      <CompositionTable open={dialog.what === "table"} onClose={close} />
      <NewMix open={dialog.what === "copy"} onClose={close} copyOf={{ id: mix.id, name: draft.name, flush }} />
      <Method mix={mix} open={dialog.what === "method"} onClose={close} />
      <Revisions open={dialog.what === "revisions"} onClose={close} />
      <LineDialog lineKey={keyOf("look")} onClose={close} />
      <ReplaceDialog lineKey={keyOf("replace")} onClose={close} />
    </>
  );
}
