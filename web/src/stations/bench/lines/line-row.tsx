import { Lock } from "lucide-react";
import { memo, type MouseEvent, useId } from "react";

import { useUnits } from "../../../shared/format/units";
import { Box } from "../../../ui/checkbox";
import { typedGrams } from "../draft/draft";
import { LineAmount } from "./line-amount";
import { LineBar } from "./line-bar";
import { LineMenu } from "./line-menu";
import { LineRemarks } from "./line-remarks";
import type { LineRowProps } from "./line-row-props";

/** One line: its name, what was typed, and as a bar what it brings. */
export const LineRow = memo(function LineRow(props: LineRowProps) {
  const { line, reading, actions } = props;
  const units = useUnits();
  const id = useId();
  const name = reading?.name ?? spoken(line.ingredient);
  const read = reading && !reading.error ? reading.grams : (line.grams ?? null);
  const type = (typed: string) => actions.edit({ kind: "type", key: line.key, typed, read });
  const weigh = (grams: number) => type(units.typedMass(grams) + (line.unit === units.massUnit ? "" : ` ${units.massUnit}`));
  return (
    <li
      className={`group rounded-button [contain:layout_style] hover:bg-steel/60 ${props.chosen ? "bg-steel" : ""}`}
      onPointerEnter={(event) => event.pointerType === "mouse" && actions.point(line.key)}
      onFocus={() => actions.point(line.key)}
      onBlur={() => actions.point(null)}
    >
      <div className="grid grid-cols-[1.75rem_minmax(6rem,1fr)_7rem_3.5rem] items-center gap-x-2 md:grid-cols-[1.75rem_minmax(6rem,1fr)_8.5rem_minmax(3rem,7.5rem)]">
        <span className="grid place-items-center">
          {props.choosing ? (
            <Box aria-label={`Choose ${name}`} checked={props.chosen} onChange={() => actions.choose(line.key)} />
          ) : (
            <LineMenu name={name} stage={line.stage ?? null} lineKey={line.key} pinned={line.pinned} actions={actions} />
          )}
        </span>
        <LineName {...props} id={id} name={name} />
        <LineAmount {...props} id={id} read={read} type={type} weigh={(by) => weigh(Math.max(0, (typedGrams(line) ?? read ?? 0) + by))} />
        <LineBar {...props} name={name} read={read} weigh={weigh} />
      </div>
      <LineRemarks {...props} id={id} name={name} />
    </li>
  );
});

/** The name; pressed with Ctrl or ⇧ it chooses the line, as its key X does. */
function LineName({ line, proposed, actions, id, name }: LineRowProps & { id: string; name: string }) {
  const units = useUnits();

  function press(event: MouseEvent) {
    if (!event.ctrlKey && !event.metaKey && !event.shiftKey) return;
    event.preventDefault();
    actions.choose(line.key);
  }

  return (
    // eslint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/no-static-element-interactions -- key X
    <span className="flex min-w-0 items-baseline gap-2" onClick={press}>
      <label htmlFor={id} className="truncate" title={name}>
        {name}
      </label>
      {line.pinned && (
        <span className="flex shrink-0 items-center gap-0.5 text-sm text-muted">
          <Lock size={12} aria-hidden /> pinned
        </span>
      )}
      {proposed && (
        <b className="shrink-0 text-sm" data-proposed>
          → {units.mass(proposed.after_g)}
          {proposed.was === proposed.name ? "" : ` ${proposed.name}`}
        </b>
      )}
    </span>
  );
}

/** The name of an ingredient until the server has said it. */
function spoken(slug: string): string {
  const words = slug.replaceAll("-", " ");
  return words.charAt(0).toUpperCase() + words.slice(1);
}
