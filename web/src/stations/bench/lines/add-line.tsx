import { type ClipboardEvent, type KeyboardEvent, memo, useId, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { useNavigate } from "react-router";

import { CompositionBar } from "../../../charts/composition-bar";
import type { Schemas } from "../../../shared/api/client";
import { Key } from "../../../ui/button";
import { comboboxProps, ShelfList } from "../../shelf/shelf-list";
import { useTypedLine, withUnit } from "../../shelf/use-typed-line";
import { type Edit, newKey, newLine } from "../draft/draft";

/** Find an ingredient on the shelf and put it in; the amount is typed next. An amount may stand before the name. */
export const AddLine = memo(function AddLine(props: {
  edit: (edit: Edit) => void;
  lastStage: string | null;
  first: boolean;
  added: (key: string, mistakenFor: string[]) => void;
}) {
  const { edit, lastStage, first } = props;
  const navigate = useNavigate();
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const [open, setOpen] = useState(false);
  const [missed, setMissed] = useState("");
  const id = useId();
  const adding = useRef<HTMLInputElement>(null);
  const { query, matches, settled, failed, sought, choose, forget } = useTypedLine(open ? text : "", 7);

  function add({ ingredient, typed }: Schemas["TypedMatch"]) {
    const key = newKey();
    const movedOn = adding.current !== document.activeElement || adding.current?.value !== "";
    flushSync(() => {
      edit({ kind: "add", line: newLine(ingredient.slug, typed, lastStage, key) });
      props.added(key, ingredient.mistaken_for);
    });
    const field = document.querySelector<HTMLInputElement>(`input[data-amount="${key}"]`);
    if (typed) field?.scrollIntoView({ block: "nearest" });
    else if (!movedOn) field?.focus();
  }

  function press(match: Schemas["TypedMatch"]) {
    clear();
    add(match);
  }

  /** Let go of what was typed: the next can be typed while it is sought. When nothing is found it comes back, or is told. */
  function take() {
    clear();
    setMissed("");
    choose((found) => {
      if (found?.[at]) return add(found[at]);
      const typingOn = adding.current?.value !== "";
      if (!typingOn) search(text);
      if (typingOn || !found) setMissed(`“${text}” was not put in: ${found ? "it is not on the shelf" : "the shelf did not answer"}.`);
    });
  }

  function clear() {
    flushSync(() => {
      setText("");
      setOpen(false);
    });
  }

  function search(words: string) {
    setText(words);
    setAt(0);
    setOpen(true);
  }

  function keys(event: KeyboardEvent) {
    if (event.key === "/" && text === "") {
      event.preventDefault();
    } else if (event.key === "Escape") {
      clear();
      forget();
    } else if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      event.preventDefault();
      setAt((at + (event.key === "ArrowDown" ? 1 : matches.length - 1)) % Math.max(matches.length, 1));
    } else if (event.key === "Enter") {
      if (open && text.trim()) take();
      else setOpen(true);
    }
  }

  function paste(event: ClipboardEvent) {
    const pasted = event.clipboardData.getData("text");
    if (pasted.trim().split("\n").length < 2) return;
    event.preventDefault();
    void navigate("/bench/paste", { state: { text: pasted } });
  }

  return (
    <div className="relative mt-2">
      <input
        ref={adding}
        id="add-line"
        aria-label="Add from the shelf"
        {...comboboxProps(id, matches.length, at)}
        value={text}
        maxLength={100}
        autoFocus={first}
        placeholder={sought.length > 0 ? `Looking for ${sought.join(", ")}…` : "Add or paste: “½ cup cream”, “4 yolks”, a whole recipe…"}
        onChange={(event) => search(event.target.value)}
        onPaste={paste}
        onKeyDown={keys}
        onBlur={() => window.setTimeout(() => setOpen(false), 120)}
        className="w-full rounded-button border border-dashed border-muted bg-transparent px-3 py-1.5 pr-10 placeholder:text-muted"
      />
      <span className="pointer-events-none absolute top-1.5 right-3 text-muted">
        <Key>/</Key>
      </span>
      <ShelfList id={id} matches={matches} at={at} point={setAt} take={press} busy={!settled} above>
        {({ ingredient, typed }) => (
          <span className="grid grid-cols-[1fr_8rem] items-center gap-3">
            <span>
              {typed && <b>{withUnit(typed)} </b>}
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
