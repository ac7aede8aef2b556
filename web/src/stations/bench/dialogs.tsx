import type { Schemas } from "../../api/client";
import { CompositionTable } from "./composition-table";
import type { Draft, Edit } from "./draft";
import { KeysHelp } from "./keys-help";
import { LineDialog } from "./line-dialog";
import { Method } from "./method";
import { NewMix } from "./new-mix";
import { ReplaceDialog } from "./replace-dialog";
import { Revisions } from "./revisions";
import { ScaleDialog } from "./scale-dialog";
import type { DraftReading } from "./use-analysis";

/** What is asked over the Bench, one thing at a time. */
export type Asked =
  | { what: "keys" | "scale" | "table" | "revisions" | "copy" | "method" }
  | { what: "look" | "replace"; key: string }
  | null;

type Props = {
  asked: Asked;
  close: () => void;
  mix: Schemas["MixOut"];
  draft: Draft;
  reading: DraftReading | undefined;
  me: Schemas["Me"];
  edit: (edit: Edit) => void;
  flush: () => Promise<void>;
  prepare: (at: number) => void;
  behind: number | null;
  layBehind: (revision: number | null) => void;
};

export function BenchDialogs(props: Props) {
  const { asked, close, mix, draft, reading, edit, flush } = props;
  if (!asked) return null;
  const keyOf = (what: "look" | "replace") => (asked.what === what ? asked.key : null);
  return (
    <>
      <KeysHelp open={asked.what === "keys"} onClose={close} />
      <ScaleDialog draft={draft} reading={reading} me={props.me} edit={edit} open={asked.what === "scale"} onClose={close} />
      <CompositionTable draft={draft} open={asked.what === "table"} onClose={close} />
      <NewMix open={asked.what === "copy"} onClose={close} copyOf={{ id: mix.id, name: draft.name, flush }} />
      <Method mix={mix} open={asked.what === "method"} onClose={close} />
      <Revisions {...props} open={asked.what === "revisions"} onClose={close} />
      <LineDialog draft={draft} lineKey={keyOf("look")} edit={edit} prepare={props.prepare} onClose={close} />
      <ReplaceDialog draft={draft} lineKey={keyOf("replace")} reading={reading} edit={edit} onClose={close} />
    </>
  );
}
