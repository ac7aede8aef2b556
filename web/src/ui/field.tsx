import { type ComponentProps, type ReactNode, useId } from "react";

import { faultOfAll } from "../shared/api/client";

export const inputClass =
  "w-full rounded-button border border-line bg-panel px-3 py-1.5 min-h-9 text-ink placeholder:text-muted hover:border-muted";

/** A labelled input with room for the sentence that says what is wrong. */
export function Field({ label, error, ...rest }: ComponentProps<"input"> & { label: string; error?: string | undefined }) {
  const id = useId();
  return (
    <Labelled id={id} label={label} error={error}>
      <input id={id} className={inputClass} {...faulty(id, error)} {...rest} />
    </Labelled>
  );
}

/** What tells the browser, and who does not see, that a field holds something wrong, and where that is said. */
export function faulty(id: string, error: string | undefined) {
  return error ? { "aria-invalid": true, "aria-describedby": `${id}-error` } : {};
}

/** A label over a control, and below it the sentence that says what is wrong. */
export function Labelled(props: { id: string; label: string; hideLabel?: boolean; error?: string | undefined; children: ReactNode }) {
  return (
    <div className="grid gap-1">
      <label htmlFor={props.id} className={props.hideLabel ? "sr-only" : "font-semibold"}>
        {props.label}
      </label>
      {props.children}
      {props.error && (
        <p id={`${props.id}-error`} role="alert" className="text-hot">
          {props.error}
        </p>
      )}
    </div>
  );
}

/** What was refused of a form where no single field is at fault. */
export function FaultOfAll({ error }: { error: Error | null }) {
  const said = faultOfAll(error);
  return said ? (
    <p role="alert" className="text-hot">
      {said}
    </p>
  ) : null;
}
