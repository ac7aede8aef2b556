import { Key } from "../../ui/button";
import { SheetDialog } from "../../ui/sheet-dialog";

const KEYS = [
  ["/", "find something on the shelf and add it"],
  ["↑ ↓", "go from amount to amount"],
  ["Alt ↑ ↓", "a gram more or less; with ⇧ ten"],
  ["Ctrl ↑ ↓", "move the line"],
  ["Ctrl Z", "undo; with ⇧ redo"],
  ["B", "balance"],
  ["P", "pin the line that is pointed at; Alt P the one that is typed in"],
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
