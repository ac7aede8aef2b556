import { useCombobox } from "downshift";
import type { FocusEvent, KeyboardEvent, Ref } from "react";

import type { Schemas } from "../../shared/api/client";

export type Match = Schemas["TypedMatch"];

type Props = {
  id: string;
  text: string;
  matches: Match[];
  open: boolean;
  /** Something else is typed. */
  type: (text: string) => void;
  /** One of the matches is pressed. */
  take: (match: Match) => void;
  /** Enter, and which match is marked: it means what is typed, also before the matches have come. */
  enter: (marked: number) => void;
  escape: () => void;
  leave: () => void;
  field?: Ref<HTMLInputElement>;
};

export type ShelfCombobox = ReturnType<typeof useShelfCombobox>;

const { stateChangeTypes: CHANGES } = useCombobox;

/** A field over what of the shelf answers it: the first match is marked until another is; leaving it chooses nothing. */
export function useShelfCombobox({ id, text, matches, open, type, take, enter, escape, leave, field }: Props) {
  const box = useCombobox<Match>({
    inputId: id,
    items: matches,
    itemToString: (match) => match?.ingredient.name ?? "",
    inputValue: text,
    isOpen: open && matches.length > 0,
    selectedItem: null,
    defaultHighlightedIndex: 0,
    onSelectedItemChange: ({ selectedItem }) => selectedItem && take(selectedItem),
    stateReducer: (_, { changes, type: why }) => (why === CHANGES.InputBlur ? { ...changes, selectedItem: null } : changes),
  });

  function keys(event: KeyboardEvent<HTMLInputElement>) {
    if (event.key === "/" && text === "") event.preventDefault(); // which is the key that leads here
    if (event.key !== "Enter" && event.key !== "Escape") return;
    Object.assign(event.nativeEvent, { preventDownshiftDefault: true });
    if (event.key === "Enter") enter(Math.max(box.highlightedIndex, 0));
    else escape();
  }

  const input = box.getInputProps({
    onChange: (event) => type(event.currentTarget.value),
    onKeyDown: keys,
    onBlur: (event: FocusEvent) => !event.currentTarget.contains(event.relatedTarget) && leave(),
    autoComplete: "off",
    ...(field ? { ref: field } : {}),
  }) as Record<string, unknown>;
  return { ...box, input: { ...input, "aria-labelledby": undefined } }; // each has a label of its own
}
