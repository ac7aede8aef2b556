import { useState } from "react";

import { readNumber } from "../../../shared/format/numbers";
import { inputClass } from "../../../ui/field";
import type { Edit, Held, Line } from "../draft/draft";

type Props = { line: Line; pieces: string[]; edit: (edit: Edit) => void };

/** What there is to say of a line, and what Balance and another size may do with it. */
export function LineConstraints({ line, pieces, edit }: Props) {
  const hold = (held: Partial<Held>) => edit({ kind: "hold", key: line.key, held });
  return (
    <section aria-labelledby="held" className="grid gap-2">
      <h3 id="held">In this mix</h3>
      <NoteField note={line.note} keep={(note) => hold({ note })} />
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <label className="flex items-center gap-1.5 self-center">
          <input type="checkbox" checked={line.pinned} onChange={() => edit({ kind: "pin", keys: [line.key] })} />
          pinned: Balance leaves it as it is
        </label>
        {!line.pinned && (
          <>
            <LimitField label="at least, g" value={line.least_g ?? null} most={line.most_g ?? null} keep={(least_g) => hold({ least_g })} />
            <LimitField label="at most, g" value={line.most_g ?? null} least={line.least_g ?? null} keep={(most_g) => hold({ most_g })} />
            {!line.whole && <LimitField label="in steps of, g" value={line.step_g ?? null} positive keep={(step_g) => hold({ step_g })} />}
          </>
        )}
        {pieces.length > 0 && (
          <label className="grid gap-0.5 text-sm">
            comes in
            <select value={line.whole ?? ""} onChange={(event) => hold({ whole: event.target.value || null })} className={`${inputClass} w-36!`}>
              <option value="">any amount</option>
              {pieces.map((piece) => (
                <option key={piece} value={piece}>
                  whole pieces: {piece}
                </option>
              ))}
            </select>
          </label>
        )}
      </div>
    </section>
  );
}

function NoteField({ note, keep }: { note: string; keep: (note: string) => void }) {
  const [typed, setTyped] = useState(note);
  const done = () => typed.trim() !== note && keep(typed.trim());
  return (
    <label className="grid gap-0.5 text-sm">
      note on this line
      <input
        value={typed}
        maxLength={200}
        placeholder="which one, how cut, when it went wrong"
        onChange={(event) => setTyped(event.target.value)}
        onBlur={done}
        onKeyDown={(event) => event.key === "Enter" && done()}
        className={inputClass}
      />
    </label>
  );
}

/** One limit: kept on leaving the field or Enter, taken back with Escape, none where it is empty. */
function LimitField(props: { label: string; value: number | null; least?: number | null; most?: number | null; positive?: boolean; keep: (value: number | null) => void }) {
  const { label, value, keep } = props;
  const written = value === null ? "" : String(value);
  const [typed, setTyped] = useState(written);
  const read = typed.trim() === "" ? null : readNumber(typed);
  const wrong = sentence();

  function sentence(): string | null {
    if (typed.trim() === "") return null;
    if (read === null || read < 0 || read > 1_000_000) return "Grams, such as 120.";
    if (props.positive && read === 0) return "A step is above 0.";
    if (props.most != null && read > props.most) return `At most ${props.most} g is asked too.`;
    return props.least != null && read < props.least ? `At least ${props.least} g is asked too.` : null;
  }

  function done() {
    if (wrong !== null) return;
    setTyped(read === null ? "" : String(read));
    if (read !== value) keep(read);
  }

  return (
    <label className="grid gap-0.5 text-sm">
      {label}
      <input
        value={typed}
        inputMode="decimal"
        maxLength={10}
        aria-invalid={wrong ? true : undefined}
        data-takes-escape={typed === written ? undefined : true}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={done}
        onKeyDown={(event) => {
          if (event.key === "Enter") done();
          if (event.key === "Escape") setTyped(written);
        }}
        className={`${inputClass} w-28!`}
      />
      {wrong && (
        <span role="alert" className="text-hot">
          {wrong}
        </span>
      )}
    </label>
  );
}
