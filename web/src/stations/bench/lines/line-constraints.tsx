import { useState } from "react";

import type { Schemas } from "../../../shared/api/client";
import { useUnits } from "../../../shared/format/units";
import { Select } from "../../../ui/select";
import { inputClass } from "../../../ui/field";
import type { Edit, Held, Line } from "../draft/draft";
import { Checkbox } from "../../../ui/checkbox";

type Form = Schemas["IngredientOut"]["forms"][number];
type Props = { line: Line; pieces: string[]; forms: Form[]; edit: (edit: Edit) => void };

/** What there is to say of a line, and what Balance and another size may do with it. */
export function LineConstraints({ line, pieces, forms, edit }: Props) {
  const { massUnit: unit } = useUnits();
  const hold = (held: Partial<Held>) => edit({ kind: "hold", key: line.key, held });
  return (
    <section aria-labelledby="held" className="grid gap-2">
      <h3 id="held">In this mix</h3>
      <NoteField note={line.note} keep={(note) => hold({ note })} />
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <Checkbox className="self-center" checked={line.pinned} onChange={() => edit({ kind: "pin", keys: [line.key] })}>
          pinned: Balance leaves it as it is
        </Checkbox>
        {!line.pinned && (
          <>
            <LimitField label={`at least, ${unit}`} value={line.least_g ?? null} most={line.most_g ?? null} keep={(least_g) => hold({ least_g })} />
            <LimitField label={`at most, ${unit}`} value={line.most_g ?? null} least={line.least_g ?? null} keep={(most_g) => hold({ most_g })} />
            {!line.whole && <LimitField label={`in steps of, ${unit}`} value={line.step_g ?? null} positive keep={(step_g) => hold({ step_g })} />}
          </>
        )}
        {pieces.length > 0 && (
          <div className="w-40 text-sm">
            <Select
              label="comes in"
              value={line.whole ?? ""}
              options={[{ key: "", name: "any amount" }, ...pieces.map((piece) => ({ key: piece, name: `whole pieces: ${piece}` }))]}
              onChange={(piece) => hold({ whole: piece || null })}
            />
          </div>
        )}
        {forms.length > 0 && (
          <div className="w-40 text-sm">
            <Select
              label="in the cup it is"
              value={line.form ?? ""}
              options={[{ key: "", name: "as usual" }, ...forms.map((form) => ({ key: form, name: form }))]}
              onChange={(form) => hold({ form: forms.find((one) => one === form) ?? null })}
            />
          </div>
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
  const units = useUnits();
  const written = value === null ? "" : units.typedMass(value);
  const [typed, setTyped] = useState(written);
  const read = typed.trim() === "" ? null : typed === written ? value : units.readMass(typed);
  const wrong = sentence();

  function sentence(): string | null {
    if (typed.trim() === "") return null;
    if (read === null || read < 0 || read > 1_000_000) return `A number of ${units.massUnit}, such as ${units.typedMass(120)}.`;
    if (props.positive && read === 0) return "A step is above 0.";
    if (props.most != null && read > props.most) return `At most ${units.mass(props.most)} is asked too.`;
    return props.least != null && read < props.least ? `At least ${units.mass(props.least)} is asked too.` : null;
  }

  function done() {
    if (wrong !== null) return;
    setTyped(read === null ? "" : units.typedMass(read));
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
