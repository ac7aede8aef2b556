import { type KeyboardEvent, useId, useState } from "react";

import type { Schemas } from "../../shared/api/client";
import { inputClass } from "../../ui/field";
import { comboboxProps, ShelfList } from "./shelf-list";
import { useTypedLine, withUnit } from "./use-typed-line";

export type Picked = { slug: string; name: string; pieces: Record<string, number>; typed?: string };

/** Pick one ingredient of the shelf by typing part of its name; an amount that is typed with it is handed on. */
export function PickIngredient(props: { label: string; withAmount?: boolean; hideLabel?: boolean; picked: Picked | null; pick: (picked: Picked | null) => void }) {
  const { picked, pick } = props;
  const id = useId();
  const [text, setText] = useState<string | null>(null);
  const [at, setAt] = useState(0);
  const line = text?.trim() ?? "";
  const { matches, settled, choose, forget } = useTypedLine(line, 6);

  function take(chosen: Schemas["TypedMatch"] | undefined) {
    if (!chosen) return;
    const { slug, name, pieces } = chosen.ingredient;
    pick({ slug, name, pieces, typed: chosen.typed });
    setText(null);
  }

  function keys(event: KeyboardEvent) {
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      setAt((at + (event.key === "ArrowDown" ? 1 : matches.length - 1)) % Math.max(matches.length, 1));
    } else if (event.key === "Enter" && line) {
      choose((found) => take(found?.[at]));
    } else if (event.key === "Escape" && text !== null) {
      setText(null);
      forget();
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }

  return (
    <div className="relative grid gap-1">
      <label htmlFor={id} className={props.hideLabel ? "sr-only" : "font-semibold"}>
        {props.label}
      </label>
      <input
        id={id}
        {...comboboxProps(id, matches.length, at)}
        value={text ?? picked?.name ?? ""}
        placeholder={props.withAmount ? "“200 g sugar”, “1 lemon”, or part of a name" : "type part of its name"}
        maxLength={100}
        onChange={(event) => {
          setText(event.target.value);
          setAt(0);
          forget();
          if (event.target.value === "") pick(null);
        }}
        onKeyDown={keys}
        onBlur={() => window.setTimeout(() => setText(null), 120)}
        className={inputClass}
      />
      <ShelfList id={id} matches={matches} at={at} point={setAt} take={take} busy={!settled}>
        {({ ingredient, typed }) => (
          <>
            {props.withAmount && typed && <b>{withUnit(typed)} </b>}
            {ingredient.name}
          </>
        )}
      </ShelfList>
    </div>
  );
}
