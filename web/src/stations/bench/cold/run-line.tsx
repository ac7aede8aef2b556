import { useBenchActions } from "../bench-context";
import { useRunForecast } from "./use-forecast";

/** How the run in the machine goes, as soon as the analysis of an edit has come. */
export function RunLine() {
  const { ask } = useBenchActions();
  const { data: run, error } = useRunForecast(true);
  if (error) return <p className="text-muted">{error.message}</p>;
  return (
    <p aria-live="polite" data-run className="min-h-5">
      {run && (
        <button
          type="button"
          onClick={() => ask({ what: "run" })}
          className={`text-left underline decoration-line underline-offset-2 hover:decoration-current ${run.drawn ? "text-muted" : "font-semibold text-hot"}`}
        >
          {run.said}
        </button>
      )}
    </p>
  );
}
