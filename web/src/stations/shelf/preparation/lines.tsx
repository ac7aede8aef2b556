import { useQuery } from "@tanstack/react-query";

import type { Dispatch, SetStateAction } from "react";

import { ingredientQuery } from "../../../shared/api/queries";
import { Checkbox } from "../../../ui/checkbox";
import { inputClass } from "../../../ui/field";
import type { Picked } from "../pick-ingredient";

/** A line of a preparation while it is edited. */
export type Line = { key: string; picked: Picked; typed: string; steeped: boolean };

export const ROW_HEIGHT = 56;

/** What goes in, at the beginning of the drawing: each with its amount. */
export function PreparationLines({ lines, setLines }: { lines: Line[]; setLines: Dispatch<SetStateAction<Line[]>> }) {
  const change = (key: string, changes: Partial<Line>) => setLines((before) => before.map((line) => (line.key === key ? { ...line, ...changes } : line)));
  return (
    <ul>
      {lines.map((line) => (
        <PreparationLine key={line.key} line={line} change={(changes) => change(line.key, changes)} remove={() => setLines((before) => before.filter(({ key }) => key !== line.key))} />
      ))}
    </ul>
  );
}

function PreparationLine({ line, change, remove }: { line: Line; change: (changes: Partial<Line>) => void; remove: () => void }) {
  const named = useQuery(ingredientQuery(line.picked.slug));
  const name = named.data?.name ?? line.picked.name;
  return (
    <li style={{ height: ROW_HEIGHT }} className="grid grid-cols-[minmax(0,1fr)_6rem] content-center items-center gap-x-2">
      <span className="truncate" title={name}>
        {name}
      </span>
      <input
        value={line.typed}
        autoFocus={line.typed === ""}
        aria-label={`Amount of ${name}`}
        placeholder="how much"
        maxLength={60}
        onChange={(event) => change({ typed: event.target.value })}
        className={`${inputClass} min-h-8! px-2! py-0.5! text-right font-semibold`}
      />
      <Checkbox className="text-sm text-muted" checked={line.steeped} onChange={(checked) => change({ steeped: checked })}>
        taken out again
      </Checkbox>
      <button type="button" className="justify-self-end text-sm text-muted underline" onClick={remove} aria-label={`Remove ${name}`}>
        remove
      </button>
    </li>
  );
}
