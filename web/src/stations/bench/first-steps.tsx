import { Check, X } from "lucide-react";
import { useState } from "react";

import { useBalance } from "./balance/use-balance";
import { useBenchActions, useComparison, useDraft } from "./bench-context";

const PLACE = "jalebi.first-steps";

/** A browser that is new here, and only for its first mix. */
export function beginFirstSteps(): void {
  localStorage.setItem(PLACE, "begun");
}

/** The first two minutes, beside the work: four steps that tick themselves off, and can be sent away. */
export function FirstSteps() {
  const { ask } = useBenchActions();
  const { draft } = useDraft();
  const revisions = useComparison().revisions.length;
  const { show: balance } = useBalance();
  const keep = () => ask({ what: "revisions" });
  const [shown, setShown] = useState(() => localStorage.getItem(PLACE) === "begun");
  if (!shown) return null;
  const weighed = draft.lines.filter((line) => line.typed.trim() !== "").length;
  const steps = [
    { done: weighed >= 3, message: "Put in three things: press / and type “½ cup cream”." },
    { done: draft.style !== null && weighed > 0, message: "Choose its style above: the bands then show what is usual." },
    { done: draft.machine !== null, message: "Choose your machine at the right: see how the mix fills it." },
    { done: revisions > 0, message: "Read the sentence, mend what is red, then keep it.", act: revisions > 0 ? null : { name: "Balance", run: balance }, also: { name: "Keep it", run: keep } },
  ];
  const all = steps.every((step) => step.done);

  function close() {
    localStorage.removeItem(PLACE);
    setShown(false);
  }

  return (
    <section aria-label="First steps" className="panel flex flex-wrap items-start gap-x-6 gap-y-1 px-4 py-2.5 text-sm">
      <h2>{all ? "That is the whole way round." : "Your first mix, in two minutes"}</h2>
      <ol className="grid flex-1 gap-x-6 gap-y-0.5 lg:grid-cols-2">
        {steps.map((step, at) => (
          <li key={step.message} className={`flex gap-1.5 ${step.done ? "text-muted" : ""}`}>
            <span className="w-4 shrink-0">{step.done ? <Check size={16} aria-label="done" /> : `${at + 1}.`}</span>
            <span>
              {step.message}{" "}
              {step.act && (
                <button type="button" onClick={step.act.run} className="underline">
                  {step.act.name}
                </button>
              )}{" "}
              {step.also && !step.done && (
                <button type="button" onClick={step.also.run} className="underline">
                  {step.also.name}
                </button>
              )}
            </span>
          </li>
        ))}
      </ol>
      <button type="button" aria-label="Put the first steps away" onClick={close} className="rounded-button p-1 text-muted hover:bg-steel">
        <X size={16} aria-hidden />
      </button>
    </section>
  );
}
