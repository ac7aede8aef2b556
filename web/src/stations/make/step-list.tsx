import { Check, Timer } from "lucide-react";
import { useEffect, useRef } from "react";

import { isDone, isRunning, type Step } from "./replay";
import { useWork } from "./use-making";

/** All steps by part; what is done is ticked, what runs has a clock, and each can be gone to. */
export function StepList({ onChoose, handing, handOver }: { onChoose?: () => void; handing: boolean; handOver: () => void }) {
  const { making } = useWork();
  return (
    <nav aria-label="Steps" className="grid content-start gap-2 p-4">
      {making.parts.map((part) => (
        <div key={part.key}>
          <h2 className="text-base">{part.name}</h2>
          <ul>
            {making.steps
              .filter((step) => step.part === part.key)
              .map((step) => (
                <li key={step.id}>
                  <ListedStep step={step} here={!handing} {...(onChoose ? { onChoose } : {})} />
                </li>
              ))}
          </ul>
        </div>
      ))}
      <button type="button" onClick={handOver} className={`min-h-[56px] rounded-button px-2 text-left font-name font-bold ${handing ? "bg-rail text-white" : "hover:bg-steel"}`}>
        Hand over
      </button>
    </nav>
  );
}

function ListedStep({ step, here, onChoose }: { step: Step; here: boolean; onChoose?: () => void }) {
  const { state, step: current, choose } = useWork();
  const done = isDone(step, state);
  const now = here && step.id === current?.id;
  const left = state.steps[step.id]?.skipped;
  const own = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (now) own.current?.scrollIntoView({ block: "nearest" });
  }, [now]);
  return (
    <button
      ref={own}
      type="button"
      aria-current={now ? "step" : undefined}
      onClick={() => {
        choose(step.id);
        onChoose?.();
      }}
      className={`grid min-h-[56px] w-full grid-cols-[20px_1fr] items-center gap-1 rounded-button px-1 py-1 text-left ${now ? "bg-rail font-bold text-white" : done ? "text-muted" : "hover:bg-steel"}`}
    >
      <span>
        {done && !left && <Check size={16} strokeWidth={3} aria-label="done" />}
        {isRunning(step, state) && <Timer size={16} aria-label="runs" />}
      </span>
      <span className={left ? "line-through" : ""}>{step.title}</span>
    </button>
  );
}
