import { useMutation } from "@tanstack/react-query";

import { answer, api, type Schemas } from "../../shared/api/client";
import { useUnits } from "../../shared/format/units";
import { instrumentOf, useInstruments } from "./instruments";
import type { Step } from "./replay";
import { useWork } from "./use-making";
import type { OnScale } from "./use-scale";

type Act = Schemas["StandInAct"];

const OF_KIND: [RegExp, [string, Act["act"]][]][] = [
  [/^(warm|cook|scald|syrup|boil)$/, [["Heat", "heat"], ["Off the heat", "off"]]],
  [/^cool$/, [["Into the ice bath", "ice-bath"], ["Into the fridge", "fridge"]]],
  [/^churn$/, [["Pour in and start", "start"], ["The same in a weak bowl", "start-weak"], ["Stop", "stop"]]],
  [/^(harden|prefreeze)$/, [["Probe into the freezer", "freezer"], ["The freezer dies", "freezer-dies"]]],
];
const ALWAYS: [string, Act["act"]][] = [
  ["Drop out", "drop-out"],
  ["Die", "die"],
  ["Wake", "wake"],
];
const A_LITTLE_G = 0.1;

/** Hands for the simulated instruments: what a cook would do at them. Nothing where the instruments are real. */
export function StandIns({ step, scale }: { step: Step; scale: OnScale | null }) {
  const { making } = useWork();
  const units = useUnits();
  const instrument = instrumentOf(step, useInstruments());
  const act = useMutation({
    mutationFn: (body: Act) => answer(api.POST("/batches/{batch_id}/steps/{step}/stand-in", { params: { path: { batch_id: making.id, step: step.id } }, body })),
  });
  if (!instrument?.stand_in) return null;
  const target = step.weighing?.target_g ?? 0;
  const rest = Math.max(target - (scale?.net ?? 0), 0);
  const pours: [string, Act][] = step.weighing
    ? [
        [`Pour ${units.mass(A_LITTLE_G * target)}`, { act: "pour", grams: A_LITTLE_G * target }],
        [`Pour ${units.mass(rest)}`, { act: "pour", grams: rest }],
        ["Take all off", { act: "take-off", grams: 0 }],
      ]
    : [];
  const acts = [...(OF_KIND.find(([kind]) => kind.test(step.kind))?.[1] ?? []), ...ALWAYS].map(([name, one]): [string, Act] => [name, { act: one, grams: 0 }]);
  return (
    <div role="group" aria-label="Simulated instruments" className="flex flex-wrap items-baseline gap-x-4 gap-y-1 border-t border-line pt-2 text-muted">
      <span>Simulated {instrument.name.toLocaleLowerCase()}:</span>
      {[...pours, ...acts].map(([name, body], at) => (
        <button key={at} type="button" className="min-h-14 underline" onClick={() => act.mutate(body)}>
          {name}
        </button>
      ))}
      {act.error && (
        <span role="alert" className="text-hot">
          {act.error.message}
        </span>
      )}
    </div>
  );
}
