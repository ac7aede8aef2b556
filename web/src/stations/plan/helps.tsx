import { listed } from "../../shared/format/numbers";
import { Button } from "../../ui/button";
import { localTime } from "./clock";
import { usePlan } from "./use-plan";

/** Where not all can be on time: what alone would help, each proved, and what is proved useless. */
export function Helps() {
  const { plan, shown, help, takeBack, change } = usePlan();
  const title = (step: string) => shown?.steps.find((one) => one.id === step)?.title ?? step;
  const helps = shown?.would_help ?? [];
  return (
    <>
      {helps.length > 0 && (
        <div className="flex flex-wrap items-center gap-2">
          <span>One of these alone would make everything on time:</span>
          {helps.map((one) => (
            <Button key={one.said} disabled={plan.from_file && ["serve_later", "leave_out"].includes(String(one.change.kind))} onClick={() => help(one.change)}>
              {one.said}
            </Button>
          ))}
        </div>
      )}
      {shown && shown.refuted.length > 0 && <p className="text-sm text-muted">Proved not to help, however much of it: {listed(shown.refuted)}.</p>}
      {Object.keys(plan.pins).length > 0 && (
        <p className="flex flex-wrap items-center gap-x-3 text-sm">
          Pinned:
          {Object.entries(plan.pins).map(([step, at]) => (
            <button key={step} type="button" className="underline" onClick={() => void change({ pins: { [step]: null } }, true)}>
              {title(step)} at {localTime(at)}, let it go
            </button>
          ))}
        </p>
      )}
      {plan.mishaps.length > 0 && (
        <p className="text-sm">
          For this plan alone: {listed(plan.mishaps)}.{" "}
          <button type="button" className="underline" onClick={takeBack}>
            Take the last one back
          </button>
        </p>
      )}
    </>
  );
}
