import { useState } from "react";

import { useVocabulary } from "../../../shared/api/vocabulary";
import { readNumber } from "../../../shared/format/numbers";
import { Button } from "../../../ui/button";
import { inputClass } from "../../../ui/field";
import type { Draft, Edit } from "../draft/draft";
import type { DraftReading } from "../draft/use-analysis";

type Props = {
  chosen: ReadonlySet<string>;
  draft: Draft;
  reading: DraftReading | undefined;
  edit: (edit: Edit) => void;
  letGo: () => void;
};

/** What can be done with several lines at once. */
export function ChosenLines({ chosen, draft, reading, edit, letGo }: Props) {
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
      <select aria-label="They go in at" value="" onChange={(event) => edit({ kind: "stage", keys, stage: event.target.value })} className={`${inputClass} w-32!`}>
        <option value="" disabled>
          Go in at…
        </option>
        {stages.map((stage) => (
          <option key={stage.key} value={stage.key}>
            {stage.name}
          </option>
        ))}
      </select>
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
