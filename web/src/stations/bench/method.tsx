import type { Schemas } from "../../shared/api/client";
import { useVocabulary } from "../../shared/api/vocabulary";
import { SheetDialog } from "../../ui/sheet-dialog";

/** What the recipe said to do, by stage, as it was pasted. */
export function Method({ mix, open, onClose }: { mix: Schemas["MixOut"]; open: boolean; onClose: () => void }) {
  const said = [mix.servings && `Serves ${mix.servings}.`, mix.makes && `Makes ${mix.makes}.`].filter(Boolean).join(" ");
  return (
    <SheetDialog open={open} onOpenChange={(now) => !now && onClose()} title="The recipe’s method" wide {...(said ? { explanation: said } : {})}>
      <MethodSteps steps={mix.method} />
    </SheetDialog>
  );
}

export function MethodSteps({ steps }: { steps: Schemas["MethodStep"][] }) {
  const { stages } = useVocabulary();
  return (
    <ol className="grid gap-1">
      {steps.map((step, index) => (
        <li key={index}>
          {step.stage !== steps[index - 1]?.stage && <h3 className="pt-2">{stages.find(({ key }) => key === step.stage)?.name ?? "To begin"}</h3>}
          {step.text}
        </li>
      ))}
    </ol>
  );
}
