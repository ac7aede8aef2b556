import { useState } from "react";

import { useVocabulary } from "../../../shared/api/vocabulary";
import { readNumber } from "../../../shared/format/numbers";
import { Button } from "../../../ui/button";
import { inputClass } from "../../../ui/field";
import { Select } from "../../../ui/select";
import { useBenchActions, useDraft, useReading, useSelection } from "../bench-context";

/** What can be done with several lines at once. */
export function ChosenLines() {
  const { edit, letGo } = useBenchActions();
  const { draft } = useDraft();
  const { reading } = useReading();
  const { chosen } = useSelection();
  const { stages } = useVocabulary();
  const [times, setTimes] = useState("");
  const keys = draft.lines.filter((line) => chosen.has(line.key)).map((line) => line.key);
  const pinned = draft.lines.filter((line) => chosen.has(line.key)).every((line) => line.pinned);
  const factor = readNumber(times);
  const read = Object.fromEntries(keys.map((key) => [key, reading?.lines[key]?.grams ?? null]));
  return (
    <div role="group" aria-label="Chosen lines" className="mt-1 flex flex-wrap items-center gap-1.5 rounded-button bg-steel px-2 py-1.5 text-sm">
      <b className="mr-1">
        {keys.length} {keys.length === 1 ? "line" : "lines"}
      </b>
      <Button onClick={() => edit({ kind: "pin", keys, pinned: !pinned })}>{pinned ? "Unpin" : "Pin"}</Button>
      <Select
        label="They go in at"
        hideLabel
        value=""
        placeholder="Go in at…"
        options={stages}
        onChange={(stage) => edit({ kind: "stage", keys, stage })}
        className={`${inputClass} w-32!`}
      />
      <form
        className="flex items-center gap-1"
        onSubmit={(event) => {
          event.preventDefault();
          if (factor === null || factor < 0) return;
          edit({ kind: "times", keys, times: factor, read });
          setTimes("");
        }}
      >
        <input aria-label="Times as much" placeholder="× 1.1" value={times} inputMode="decimal" maxLength={6} onChange={(event) => setTimes(event.target.value)} className={`${inputClass} w-16!`} />
      </form>
      <Button
        onClick={() => {
          edit({ kind: "remove", keys });
          letGo();
        }}
      >
        Remove
      </Button>
      <button type="button" onClick={letGo} className="ml-auto min-h-7 px-1 underline">
        let go
      </button>
    </div>
  );
}
