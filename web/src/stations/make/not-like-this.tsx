import { useState } from "react";

import { Field } from "../../ui/field";
import { SheetDialog } from "../../ui/sheet-dialog";
import { type Picked, PickIngredient } from "../shelf/pick-ingredient";
import { BigButton } from "./big-button";
import type { Said } from "./presses";
import type { Step } from "./replay";
import { useWork } from "./use-making";

type Way = { key: string; name: string; ofLine?: boolean; asks: "text" | "instead" | "added" | "machine" | "nothing"; label?: string; said: (step: Step, text: string) => Said[] };

const WAYS: Way[] = [
  { key: "instead", name: "Another ingredient", ofLine: true, asks: "instead", said: () => [] },
  { key: "added", name: "Something more went in", asks: "added", said: () => [] },
  { key: "skip", name: "Leave this step out", asks: "text", label: "Why", said: (step, text) => [{ kind: "skipped", step: step.id, text }] },
  { key: "otherwise", name: "Done in another way", asks: "text", label: "What was different: order, temperature, time", said: (step, text) => [{ kind: "otherwise", step: step.id, text }] },
  { key: "machine", name: "Another machine", asks: "machine", said: () => [] },
  { key: "own", name: "A step of your own", asks: "text", label: "What, and how many: “24 cones filled”", said: (_, text) => [{ kind: "chose", step: `own.${Date.now().toString(36)}`, text }] },
  { key: "spill", name: "Some was spilt", asks: "text", label: "How much, about", said: (step, text) => [{ kind: "otherwise", step: step.id, text: `Spilt: ${text}` }] },
  { key: "pause", name: "Pause the batch", asks: "text", label: "Until when", said: (_, text) => [{ kind: "paused", text }] },
  { key: "abandon", name: "Give the batch up", asks: "text", label: "What became of the food", said: (_, text) => [{ kind: "abandoned", text }] },
];

/** What was not as planned: said once, analysed at once, and what it does now is told. */
export function NotLikeThis({ step, open, onClose }: { step: Step; open: boolean; onClose: () => void }) {
  const [way, setWay] = useState<Way | null>(null);
  function close() {
    setWay(null);
    onClose();
  }
  const ways = WAYS.filter((one) => (one.ofLine ? step.weighing !== null : one.key !== "skip" || step.weighing === null));
  return (
    <SheetDialog open={open} onOpenChange={close} title={way ? way.name : "Not like this"} wide>
      {way ? (
        <Answer step={step} way={way} done={close} />
      ) : (
        <div className="grid gap-2 sm:grid-cols-2">
          {ways.map((one) => (
            <BigButton key={one.key} onClick={() => setWay(one)} className="text-left">
              {one.name}
            </BigButton>
          ))}
        </div>
      )}
    </SheetDialog>
  );
}

function Answer({ step, way, done }: { step: Step; way: Way; done: () => void }) {
  const { press, choose, making } = useWork();
  const [text, setText] = useState("");
  const [picked, setPicked] = useState<Picked | null>(null);
  const line = step.weighing?.line;

  function say(...said: Said[]) {
    press(...said);
    if (way.key === "skip" || way.key === "abandon") choose(null);
    done();
  }

  if (way.asks === "machine") {
    return (
      <div className="grid gap-2">
        {making.machines.map((machine) => (
          <BigButton key={machine.id} kind={machine.id === making.machine ? "on" : "plain"} onClick={() => say({ kind: "chose", step: "machine", text: String(machine.id) })}>
            {machine.name}
          </BigButton>
        ))}
      </div>
    );
  }
  const needsText = way.asks !== "instead";
  const ready = way.asks === "text" ? text.trim() !== "" : picked !== null && (way.asks === "instead" || text.trim() !== "");

  function keep() {
    if (way.asks === "instead" && picked && line !== undefined) say({ kind: "swapped", line, name: picked.slug, text });
    else if (way.asks === "added" && picked) say({ kind: "added", name: picked.slug, text, more: step.title });
    else say(...way.said(step, text.trim()));
  }

  return (
    <form
      className="grid gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        if (ready) keep();
      }}
    >
      {way.asks !== "text" && <PickIngredient label={way.asks === "instead" ? `What went in instead of ${line === undefined ? "it" : (making.line_names[line] ?? "it")}` : "What went in"} picked={picked} pick={setPicked} />}
      {needsText && <Field label={way.asks === "added" ? "How much" : (way.label ?? "")} value={text} maxLength={200} onChange={(event) => setText(event.target.value)} />}
      <BigButton kind="hot" type="submit" disabled={!ready}>
        Note it
      </BigButton>
    </form>
  );
}
