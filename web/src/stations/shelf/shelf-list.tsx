import type { ReactNode } from "react";

import type { Schemas } from "../../shared/api/client";

/** What makes an input the combobox of a ShelfList with the same id. */
export function comboboxProps(id: string, count: number, at: number) {
  return {
    role: "combobox",
    "aria-expanded": count > 0,
    "aria-controls": `${id}-list`,
    "aria-activedescendant": count > 0 ? `${id}-${at}` : undefined,
    autoComplete: "off",
  } as const;
}

/** The list under (or above) a combobox: what the shelf answers, one of them pointed at. */
export function ShelfList(props: {
  id: string;
  matches: Schemas["TypedMatch"][];
  at: number;
  point: (at: number) => void;
  take: (match: Schemas["TypedMatch"]) => void;
  busy: boolean;
  above?: boolean;
  children: (match: Schemas["TypedMatch"]) => ReactNode;
}) {
  const { id, matches, at } = props;
  return (
    <ul
      id={`${id}-list`}
      role="listbox"
      aria-label="Shelf"
      aria-busy={props.busy}
      hidden={matches.length === 0}
      className={`panel absolute inset-x-0 z-10 p-1 shadow-lg ${props.above ? "bottom-full mb-1" : "top-full mt-1"}`}
    >
      {matches.map((match, index) => (
        <li
          key={match.ingredient.slug}
          id={`${id}-${index}`}
          role="option"
          aria-selected={index === at}
          onPointerDown={(event) => {
            event.preventDefault();
            props.take(match);
          }}
          onPointerMove={(event) => {
            // A list that opens under a resting pointer is not pointed at.
            if (event.movementX !== 0 || event.movementY !== 0) props.point(index);
          }}
          className={`cursor-pointer rounded-button px-2.5 py-1 ${index === at ? "bg-steel" : ""}`}
        >
          {props.children(match)}
        </li>
      ))}
    </ul>
  );
}
