import type { MouseEvent, ReactNode } from "react";

import type { Match, ShelfCombobox } from "./use-shelf-combobox";

/** A list that opens under a resting pointer is not pointed at. */
function onlyIfMoved(event: MouseEvent) {
  if (event.movementX === 0 && event.movementY === 0) Object.assign(event.nativeEvent, { preventDownshiftDefault: true });
}

/** The list under (or above) a combobox: what the shelf answers, one of them marked. */
export function ShelfList(props: { box: ShelfCombobox; matches: Match[]; busy: boolean; above?: boolean; children: (match: Match) => ReactNode }) {
  const { box, matches } = props;
  return (
    <ul
      {...box.getMenuProps({ "aria-label": "Shelf" })}
      aria-busy={props.busy}
      hidden={!box.isOpen}
      className={`panel absolute inset-x-0 z-10 p-1 shadow-lg ${props.above ? "bottom-full mb-1" : "top-full mt-1"}`}
    >
      {box.isOpen &&
        matches.map((match, index) => (
          <li
            key={match.ingredient.slug}
            {...box.getItemProps({ item: match, index, onMouseMove: onlyIfMoved })}
            className={`cursor-pointer rounded-button px-2.5 py-1 ${index === box.highlightedIndex ? "bg-steel" : ""}`}
          >
            {props.children(match)}
          </li>
        ))}
    </ul>
  );
}
