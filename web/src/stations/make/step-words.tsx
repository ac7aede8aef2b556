import { unbroken } from "../../shared/format/numbers";
import { useUnits } from "../../shared/format/units";
import type { Step } from "./replay";
import { useWork } from "./use-making";

/** What is done, how it is known without a thermometer, why, what to mind, and what the recipe itself says. */
export function StepWords({ step }: { step: Step }) {
  return (
    <div className="grid max-w-[46rem] gap-2 text-xl leading-snug">
      {step.do.map((sentence) => (
        <p key={sentence}>{unbroken(sentence)}</p>
      ))}
      <Lines step={step} />
      {step.cue && (
        <p>
          <b>You see it when:</b> {unbroken(lower(step.cue))}
        </p>
      )}
      <Waits step={step} />
      {step.mind.map((sentence) => (
        <p key={sentence} className="border-l-4 border-hot pl-3 font-semibold">
          {unbroken(sentence)}
        </p>
      ))}
      {step.method.map((sentence) => (
        <p key={sentence} className="text-lg text-muted">
          The recipe says: “{sentence}”
        </p>
      ))}
      {step.why && <p className="text-lg text-muted">{unbroken(step.why)}</p>}
    </div>
  );
}

function lower(text: string): string {
  return text.charAt(0).toLowerCase() + text.slice(1);
}

/** What goes in at a step that is not itself weighing. */
function Lines({ step }: { step: Step }) {
  const { making, state } = useWork();
  const units = useUnits();
  if (step.weighing || step.lines.length === 0) return null;
  const targets = new Map(making.steps.flatMap((one) => (one.weighing ? [[one.weighing.line, one.weighing.target_g] as const] : [])));
  return (
    <ul className="grid gap-1">
      {step.lines.map((line) => (
        <li key={line}>
          <b>{state.lines[line]?.instead ?? making.line_names[line]}</b> {units.mass(state.lines[line]?.grams ?? targets.get(line) ?? 0)}
          {!state.lines[line]?.ticked && <span className="font-semibold text-hot"> not weighed yet</span>}
        </li>
      ))}
    </ul>
  );
}

/** From when to when, by the clock on the wall once it runs. */
function Waits({ step }: { step: Step }) {
  const { state } = useWork();
  const units = useUnits();
  const began = state.steps[step.id]?.began_at;
  if (step.least_min === null && step.most_min === null) return null;
  const at = (minutes: number) => (began ? units.hour(Date.parse(began) + minutes * 60_000, Date.parse(began)) : lasting(minutes));
  const least = step.least_min === null ? null : began ? `not before ${at(step.least_min)}` : `at least ${at(step.least_min)}`;
  const most = step.most_min === null ? null : began ? `at the latest ${at(step.most_min)}` : `at most ${at(step.most_min)}`;
  return <p className="text-lg font-semibold">{capital([least, most].filter(Boolean).join(", "))}.</p>;
}

function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

function lasting(minutes: number): string {
  if (minutes < 1) return unbroken(`${Math.round(minutes * 60)} s`);
  if (minutes < 120) return unbroken(`${Math.round(minutes)} min`);
  return unbroken(`${Math.round(minutes / 6) / 10} h`);
}
