import { useUnits } from "../../../shared/format/units";
import { SheetDialog } from "../../../ui/sheet-dialog";
import { type Picked, PickIngredient } from "../../shelf/pick-ingredient";
import { useBenchActions, useDraft, useReading } from "../bench-context";

/** Another ingredient in the place of a line: amount, stage and place stay. */
export function ReplaceDialog({ lineKey, onClose }: { lineKey: string | null; onClose: () => void }) {
  const { edit } = useBenchActions();
  const { draft } = useDraft();
  const { reading } = useReading();
  const units = useUnits();
  const line = draft.lines.find((one) => one.key === lineKey);
  const read = line && reading?.lines[line.key];
  const name = read?.name ?? line?.ingredient ?? "";

  function put(picked: Picked | null) {
    if (!picked || !line) return;
    const elsewhere = /[a-z]/i.test(line.typed) || line.unit !== units.massUnit; // pieces and cups are those of what goes
    const typed = elsewhere && typeof read?.grams === "number" ? units.typedMass(read.grams, 1) : line.typed;
    edit({ kind: "swap", key: line.key, lines: [{ ingredient: picked.slug, typed }] });
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
