import { type ComponentProps, useId } from "react";

export const inputClass =
  "w-full rounded-button border border-line bg-panel px-3 py-1.5 min-h-9 text-ink placeholder:text-muted hover:border-muted";

/** A labelled input with room for the sentence that says what is wrong. */
export function Field({ label, error, ...rest }: ComponentProps<"input"> & { label: string; error?: string | undefined }) {
  const id = useId();
  return (
    <div className="grid gap-1">
      <label htmlFor={id} className="font-semibold">
        {label}
      </label>
      <input
        id={id}
        className={inputClass}
        aria-invalid={error ? true : undefined}
        aria-describedby={error ? `${id}-error` : undefined}
        {...rest}
      />
      {error && (
        <p id={`${id}-error`} role="alert" className="text-hot">
          {error}
        </p>
      )}
    </div>
  );
}

/** A labelled choice of one from a short list. */
export function Choice({
  label,
  options,
  hideLabel = false,
  ...rest
}: ComponentProps<"select"> & { label: string; options: { key: string; name: string }[]; hideLabel?: boolean }) {
  const id = useId();
  return (
    <div className="grid gap-1">
      <label htmlFor={id} className={hideLabel ? "sr-only" : "font-semibold"}>
        {label}
      </label>
      <select id={id} className={inputClass} {...rest}>
        {options.map((option) => (
          <option key={option.key} value={option.key}>
            {option.name}
          </option>
        ))}
      </select>
    </div>
  );
}
