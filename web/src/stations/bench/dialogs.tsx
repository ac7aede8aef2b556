import { lazy, Suspense } from "react";

import { type OpenDialog, useBenchActions, useDraft } from "./bench-context";
import { ReplaceDialog } from "./lines/replace-dialog";
import { NewMix } from "./mixes/new-mix";
import { Revisions } from "./revisions/revisions";
import { ScaleDialog } from "./size/scale-dialog";

// Those that nobody types into the moment they open come when they are asked for.
const CompositionTable = lazy(() => import("./lines/composition-table").then(({ CompositionTable }) => ({ default: CompositionTable })));
const CostDialog = lazy(() => import("./cost-dialog").then(({ CostDialog }) => ({ default: CostDialog })));
const IceDialog = lazy(() => import("./cold/ice-dialog").then(({ IceDialog }) => ({ default: IceDialog })));
const LabelDialog = lazy(() => import("./label-dialog").then(({ LabelDialog }) => ({ default: LabelDialog })));
const LineDialog = lazy(() => import("./lines/line-dialog").then(({ LineDialog }) => ({ default: LineDialog })));
const KeysHelp = lazy(() => import("./keys-help").then(({ KeysHelp }) => ({ default: KeysHelp })));
const Method = lazy(() => import("./method").then(({ Method }) => ({ default: Method })));
const PotDialog = lazy(() => import("./cold/pot-dialog").then(({ PotDialog }) => ({ default: PotDialog })));
const RunDialog = lazy(() => import("./cold/run-dialog").then(({ RunDialog }) => ({ default: RunDialog })));

export function BenchDialogs({ dialog }: { dialog: OpenDialog }) {
  const { mix, ask, flush } = useBenchActions();
  const { draft } = useDraft();
  if (!dialog) return null;
  const close = () => ask(null);
  return (
    <>
      <ScaleDialog open={dialog.what === "scale"} onClose={close} />
      <NewMix open={dialog.what === "copy"} onClose={close} copyOf={{ id: mix.id, name: draft.name, flush }} />
      <Revisions open={dialog.what === "revisions"} onClose={close} />
      <ReplaceDialog lineKey={dialog.what === "replace" ? dialog.key : null} onClose={close} />
      <Suspense>
        {dialog.what === "look" && <LineDialog lineKey={dialog.key} onClose={close} />}
        {dialog.what === "keys" && <KeysHelp open onClose={close} />}
        {dialog.what === "table" && <CompositionTable open onClose={close} />}
        {dialog.what === "method" && <Method mix={mix} open onClose={close} />}
        {dialog.what === "label" && <LabelDialog onClose={close} />}
        {dialog.what === "cost" && <CostDialog onClose={close} />}
        {dialog.what === "run" && <RunDialog open onClose={close} />}
        {dialog.what === "ice" && <IceDialog open onClose={close} />}
        {dialog.what === "pot" && <PotDialog open onClose={close} />}
      </Suspense>
    </>
  );
}
