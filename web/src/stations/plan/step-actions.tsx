import { Button } from "../../ui/button";
import type { Step } from "./lanes";
import { usePlan } from "./use-plan";

/** What is said of a step while a plan is carried out: it began, it is done, it takes longer. */
export function StepActions({ step }: { step: Step }) {
  const { happened } = usePlan();
  const longer = (minutes: number) => (
    <Button className="max-md:min-h-12" onClick={() => happened({ kind: "longer", step: step.id, minutes })}>
      +{minutes} min
    </Button>
  );
  return (
    <>
      {!step.begun && (
        <Button className="max-md:min-h-12" onClick={() => happened({ kind: "began", step: step.id, minutes: 0 })}>
          Began now
        </Button>
      )}
      <Button className="max-md:min-h-12" onClick={() => happened({ kind: "ended", step: step.id, minutes: 0 })}>
        Done now
      </Button>
      {longer(5)}
      {longer(15)}
    </>
  );
}
