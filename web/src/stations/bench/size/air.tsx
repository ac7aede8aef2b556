import { useBenchActions, useDraft } from "../bench-context";
import { overrunError } from "../draft/draft";
import { typing } from "../lines/typing";

/** How much air is beaten in, where it is drawn: on top of the tub. */
export function Air() {
  const { edit } = useBenchActions();
  const { draft } = useDraft();
  const error = overrunError(draft);
  return (
    <>
      <label className="ml-auto flex items-baseline gap-1.5 text-sm text-muted">
        Air
        <input
          value={draft.overrun}
          inputMode="decimal"
          maxLength={8}
          placeholder="30"
          aria-invalid={error ? true : undefined}
          aria-describedby={error ? "overrun-said" : undefined}
          onChange={(event) => edit({ kind: "overrun", overrun: event.target.value })}
          {...typing(edit)}
          className="w-12 rounded-button border border-line bg-panel px-2 py-0.5 text-right text-ink"
        />
        % overrun
      </label>
      {error && (
        <p id="overrun-said" role="status" className="w-full text-right text-sm text-hot">
          {error}
        </p>
      )}
    </>
  );
}
