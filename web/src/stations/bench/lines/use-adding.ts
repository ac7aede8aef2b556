import { useRef, useState } from "react";
import { flushSync } from "react-dom";

import { useKitchen } from "../../../shared/api/kitchen";
import type { Match } from "../../shelf/use-shelf-combobox";
import { useTypedLine } from "../../shelf/use-typed-line";
import { type Edit, newKey, newLine } from "../draft/draft";

type Props = { edit: (edit: Edit) => void; lastStage: string | null; added: (key: string, mistakenFor: string[]) => void };

/** Typing what is added next: the line so far, what it may be, and putting it in. */
export function useAdding({ edit, lastStage, added }: Props) {
  const { mass_unit: unit } = useKitchen();
  const [text, setText] = useState("");
  const [open, setOpen] = useState(false);
  const [missed, setMissed] = useState("");
  const field = useRef<HTMLInputElement>(null);
  const line = useTypedLine(open ? text : "", 7);

  function add({ ingredient, typed, form }: Match) {
    const key = newKey();
    const movedOn = field.current !== document.activeElement || field.current?.value !== "";
    flushSync(() => {
      edit({ kind: "add", line: { ...newLine(ingredient.slug, typed, lastStage, key, unit), form } });
      added(key, ingredient.mistaken_for);
    });
    const amount = document.querySelector<HTMLInputElement>(`input[data-amount="${key}"]`);
    if (typed) amount?.scrollIntoView({ block: "nearest" });
    else if (!movedOn) amount?.focus();
  }

  function clear() {
    flushSync(() => {
      setText("");
      setOpen(false);
    });
  }

  function search(words: string) {
    setText(words);
    setOpen(true);
  }

  /** Let go of what was typed: the next can be typed while it is sought. When nothing is found it comes back, or is told. */
  function enter(marked: number) {
    if (!open || !text.trim()) return setOpen(true);
    clear();
    setMissed("");
    line.choose((found) => {
      if (found?.[marked]) return add(found[marked]);
      const typingOn = field.current?.value !== "";
      if (!typingOn) search(text);
      if (typingOn || !found) setMissed(`“${text}” was not put in: ${found ? "it is not on the shelf" : "the shelf did not answer"}.`);
    });
  }

  return {
    ...line,
    text,
    open,
    missed,
    field,
    search,
    enter,
    take: (match: Match) => {
      clear();
      add(match);
    },
    escape: () => {
      clear();
      line.forget();
    },
    leave: () => setOpen(false),
  };
}
