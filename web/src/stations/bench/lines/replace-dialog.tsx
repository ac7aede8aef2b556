import { SheetDialog } from "../../../ui/sheet-dialog";
import { type Picked, PickIngredient } from "../../shelf/pick-ingredient";
import type { Draft, Edit } from "../draft/draft";
import type { DraftReading } from "../draft/use-analysis";

type Props = { draft: Draft; lineKey: string | null; reading: DraftReading | undefined; edit: (edit: Edit) => void; onClose: () => void };

/** Another ingredient in the place of a line: amount, stage and place stay. */
export function ReplaceDialog({ draft, lineKey, reading, edit, onClose }: Props) {
  const line = draft.lines.find((one) => one.key === lineKey);
  const read = line && reading?.lines[line.key];
  const name = read?.name ?? line?.ingredient ?? "";

  function put(picked: Picked | null) {
    if (!picked || !line) return;
    const counted = /[a-z]/i.test(line.typed) && typeof read?.grams === "number";
    edit({ kind: "swap", key: line.key, lines: [{ ingredient: picked.slug, typed: counted ? String(Math.round((read.grams ?? 0) * 10) / 10) : line.typed }] });
    onClose();
    document.querySelector<HTMLInputElement>(`input[data-amount="${line.key}"]`)?.focus();
  }

  return (
    <SheetDialog
      open={line !== undefined}
      onOpenChange={(open) => !open && onClose()}
      title={`In the place of ${name}`}
      explanation="As much of it, at the same stage. What else that changes is seen at once, and undone with one key."
    >
      <div className="min-h-64">
        <PickIngredient label="Put in" picked={null} pick={put} />
      </div>
    </SheetDialog>
  );
}
