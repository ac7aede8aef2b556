import { type ClipboardEvent, memo } from "react";
import { useNavigate } from "react-router";

import { CompositionBar } from "../../../charts/composition-bar";
import { Key } from "../../../ui/button";
import { ShelfList } from "../../shelf/shelf-list";
import { useShelfCombobox } from "../../shelf/use-shelf-combobox";
import { useAmountText } from "../../shelf/use-typed-line";
import type { Edit } from "../draft/draft";
import { useAdding } from "./use-adding";

type Props = {
  edit: (edit: Edit) => void;
  lastStage: string | null;
  first: boolean;
  added: (key: string, mistakenFor: string[]) => void;
};

/** Find an ingredient on the shelf and put it in; the amount is typed next. An amount may stand before the name. */
export const AddLine = memo(function AddLine(props: Props) {
  const navigate = useNavigate();
  const amountText = useAmountText();
  const adding = useAdding(props);
  const { query, matches, settled, failed, sought, text, open, missed, field } = adding;
  const box = useShelfCombobox({ id: "add-line", text, matches, open, type: adding.search, take: adding.take, enter: adding.enter, escape: adding.escape, leave: adding.leave, field });

  function paste(event: ClipboardEvent) {
    const pasted = event.clipboardData.getData("text");
    if (pasted.trim().split("\n").length < 2) return;
    event.preventDefault();
    void navigate("/bench/paste", { state: { text: pasted } });
  }

  return (
    <div className="relative mt-2">
      <input
        {...box.input}
        aria-label="Add from the shelf"
        maxLength={100}
        autoFocus={props.first}
        placeholder={sought.length > 0 ? `Looking for ${sought.join(", ")}…` : "Add or paste: “½ cup cream”, “4 yolks”, a whole recipe…"}
        onPaste={paste}
        className="w-full rounded-button border border-dashed border-muted bg-transparent px-3 py-1.5 pr-10 placeholder:text-muted"
      />
      <span className="pointer-events-none absolute top-1.5 right-3 text-muted">
        <Key>/</Key>
      </span>
      <ShelfList box={box} matches={matches} busy={!settled} above>
        {({ ingredient, typed }) => (
          <span className="grid grid-cols-[1fr_8rem] items-center gap-3">
            <span>
              {typed && <b>{amountText(typed)} </b>}
              {ingredient.name}
            </span>
            <CompositionBar parts={ingredient.strata} most={100} water of={ingredient.name} />
          </span>
        )}
      </ShelfList>
      {missed && (
        <p role="status" className="pt-1 text-sm text-hot">
          {missed}
        </p>
      )}
      {open && query.length > 1 && settled && !failed && matches.length === 0 && (
        <p role="status" className="pt-1 text-sm text-muted">
          Nothing on the shelf is called “{query.slice(0, 40)}”. Try a shorter word, or put it on the Shelf as your own.
        </p>
      )}
    </div>
  );
});
