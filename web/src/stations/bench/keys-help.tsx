import { Key } from "../../ui/button";
import { SheetDialog } from "../../ui/sheet-dialog";

const KEYS = [
  ["/", "find something on the shelf and add it"],
  ["↑ ↓", "go from amount to amount; with ⇧ choose them on the way"],
  ["Alt ↑ ↓", "a step of the scale more or less; with ⇧ ten"],
  ["Ctrl ↑ ↓", "move the line"],
  ["Enter", "done with an amount; Esc puts back what stood there"],
  ["P", "pin the line that is pointed at"],
  ["L", "look closer at it: note, limits, what could stand in"],
  ["R", "put something else in its place"],
  ["X", "choose it, for several at once"],
  ["Alt P L R X", "the same while typing; Alt ⌫ removes the line"],
  ["B", "balance"],
  ["S", "another size"],
  ["F", "how it freezes in the machine"],
  ["V", "read amounts as typed, in per cent, per kg, in cups"],
  ["T", "the table"],
  ["K", "revisions: keep one, compare, go back"],
  ["N", "our notes"],
  ["Ctrl Z", "undo, also after a reload; with ⇧ redo"],
  ["Ctrl P", "print the mix"],
  ["M", "make it"],
  ["?", "this list"],
] as const;

export function KeysHelp({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <SheetDialog open={open} onOpenChange={(now) => !now && onClose()} title="Keys">
      <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-2">
        {KEYS.map(([key, does]) => (
          <div key={key} className="contents">
            <dt>
              <Key>{key}</Key>
            </dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
    </SheetDialog>
  );
}
