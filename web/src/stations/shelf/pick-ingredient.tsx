import { useId, useState } from "react";

import { inputClass, Labelled } from "../../ui/field";
import { ShelfList } from "./shelf-list";
import { type Match, useShelfCombobox } from "./use-shelf-combobox";
import { useAmountText, useTypedLine } from "./use-typed-line";

export type Picked = { slug: string; name: string; pieces: Record<string, number>; typed?: string };

type Props = { label: string; withAmount?: boolean; hideLabel?: boolean; picked: Picked | null; pick: (picked: Picked | null) => void };

/** Pick one ingredient of the shelf by typing part of its name; an amount that is typed with it is handed on. */
export function PickIngredient({ label, withAmount = false, hideLabel = false, picked, pick }: Props) {
  const id = useId();
  const [text, setText] = useState<string | null>(null);
  const line = text?.trim() ?? "";
  const amountText = useAmountText();
  const { matches, settled, choose, forget } = useTypedLine(line, 6);
  const box = useShelfCombobox({
    id,
    text: text ?? picked?.name ?? "",
    matches,
    open: text !== null,
    type: (typed) => {
      setText(typed);
      if (withAmount) return;
      forget();
      if (typed === "") pick(null);
    },
    take: (chosen) => {
      take(chosen);
      setText(null);
    },
    enter,
    escape: () => {
      setText(null);
      forget();
    },
    leave: () => setText(null),
  });

  function take(chosen: Match) {
    const { slug, name, pieces } = chosen.ingredient;
    pick({ slug, name, pieces, typed: chosen.typed });
  }

  /** Where several are put in one after the other, the next can be typed while the one before is sought. */
  function enter(marked: number) {
    if (!line) return;
    if (withAmount) setText(null);
    choose((found) => {
      const chosen = found?.[marked];
      if (chosen) take(chosen);
      if (chosen && !withAmount) setText(null);
      if (!chosen && withAmount) setText((typed) => typed ?? line);
    });
  }

  return (
    <Labelled id={id} label={label} hideLabel={hideLabel}>
      <div className="relative">
        <input
          {...box.input}
          placeholder={withAmount ? "“200 g sugar”, “1 lemon”, or part of a name" : "type part of its name"}
          maxLength={100}
          className={inputClass}
          {...(text === null ? {} : { "data-takes-escape": true })}
        />
        <ShelfList box={box} matches={matches} busy={!settled}>
          {({ ingredient, typed }) => (
            <>
              {withAmount && typed && <b>{amountText(typed)} </b>}
              {ingredient.name}
            </>
          )}
        </ShelfList>
      </div>
    </Labelled>
  );
}
