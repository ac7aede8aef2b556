import { useQuery } from "@tanstack/react-query";

import type { Schemas } from "../../shared/api/client";
import { makingQuery } from "../../shared/api/queries";
import { unbroken } from "../../shared/format/numbers";

/** The steps beside weighing, on paper alone: a box to tick by pen, a line to write on, and what to mind. */
export function StepsOnPaper({ batchId }: { batchId: number }) {
  const making = useQuery({ ...makingQuery(batchId), refetchInterval: false });
  if (!making.data) return null;
  const { parts, steps } = making.data;
  return (
    <section aria-label="Steps" className="hidden print:block">
      {parts
        .filter((part) => part.key !== "weigh")
        .map((part) => (
          <div key={part.key}>
            <h2 className="pt-3 pb-1 text-base">{part.name}</h2>
            <ul className="divide-y divide-line">
              {steps
                .filter((step) => step.part === part.key)
                .map((step) => (
                  <PaperStep key={step.id} step={step} />
                ))}
            </ul>
          </div>
        ))}
    </section>
  );
}

function PaperStep({ step }: { step: Schemas["MakingStepOut"] }) {
  return (
    <li className="grid break-inside-avoid grid-cols-[1.5rem_1fr_9rem] gap-x-2 py-1">
      <span className="mt-0.5 size-5 border border-black" />
      <span>
        <b>{unbroken(step.title)}.</b> {step.do.map(unbroken).join(" ")} {step.mind.map(unbroken).join(" ")}
      </span>
      <span className="grid content-start gap-1">
        {step.readings.map((reading) => (
          <span key={reading.key} className="border-b border-black text-sm">
            {reading.unit === "text" ? reading.name : `${reading.name}, ${reading.unit}`}
          </span>
        ))}
        <span className="border-b border-black text-sm">At</span>
      </span>
    </li>
  );
}
