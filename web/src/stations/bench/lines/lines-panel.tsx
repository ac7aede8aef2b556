import { useCallback, useState } from "react";

import type { Schemas } from "../../../shared/api/client";
import { useKitchen } from "../../../shared/api/kitchen";
import { useVocabulary } from "../../../shared/api/vocabulary";
import { useUnits } from "../../../shared/format/units";
import { ToggleGroup } from "../../../ui/toggle-group";
import { useBalance } from "../balance/use-balance";
import { useBenchActions, useDraft, useReading, useSelection } from "../bench-context";
import { changes } from "../balance/changes";
import { byStage, type Line } from "../draft/draft";
import { AddLine } from "./add-line";
import { ChosenLines } from "./chosen-lines";
import { LineRow } from "./line-row";
import { LineTolerance } from "./line-tolerance";
import { type View, VIEWS } from "./view";

/** What goes in: every line by its stage, its length grams and its colours what it brings. */
export function LinesPanel() {
  const { edit, point } = useBenchActions();
  const { draft } = useDraft();
  const { chosen } = useSelection();
  const { stages, mix_in_stages: mixInStages } = useVocabulary();
  const [water, setWater] = useState(false);
  const [mistakable, setMistakable] = useState<Record<string, string[]>>({});
  const added = useCallback((key: string, mistakenFor: string[]) => setMistakable((before) => ({ ...before, [key]: mistakenFor })), []);
  const names = new Map(stages.map((stage) => [stage.key, stage.name]));
  const groups = byStage(draft.lines, stages.map((stage) => stage.key)).map((group) => ({ ...group, name: names.get(group.stage ?? "") ?? "First" }));
  return (
    <section aria-labelledby="goes-in" className="panel flex min-h-0 min-w-0 flex-col p-3.5">
      <PanelHead water={water} setWater={setWater} />
      <div className="-mx-1 min-h-0 flex-1 overflow-y-auto px-1" onPointerLeave={() => point(null)}>
        {groups.map((group) => (
          <div key={group.name} role="group" aria-label={group.name} className="mb-1.5">
            <h3 className="pt-1 font-sans text-sm font-bold tracking-normal">{group.name}</h3>
            <StageLines lines={group.lines} water={water} mistakable={mistakable} />
          </div>
        ))}
        {draft.lines.length === 0 && (
          <p className="py-6 text-muted">
            Nothing in it yet. Find the first ingredient below, then say how much: <b>480</b>, <b>½ cup</b>, <b>1 1/2 oz</b> or <b>4 yolks</b>.
          </p>
        )}
      </div>
      {chosen.size > 0 ? <ChosenLines /> : <LineTolerance />}
      <AddLine
        edit={edit}
        lastStage={draft.lines.findLast((line) => !mixInStages.includes(line.stage ?? ""))?.stage ?? "pot"}
        first={draft.lines.length === 0}
        added={added}
      />
    </section>
  );
}

/** What it weighs in all, and in what its amounts are read. */
function PanelHead({ water, setWater }: { water: boolean; setWater: (shown: boolean) => void }) {
  const { ask, setView } = useBenchActions();
  const { analysis } = useReading();
  const { view } = useSelection();
  const units = useUnits();
  return (
    <div className="mb-1 flex flex-wrap items-baseline gap-x-3 text-sm text-muted">
      <h2 id="goes-in" className="text-[1rem] text-ink">
        Goes in
      </h2>
      <span className="text-[1rem] whitespace-nowrap">{analysis?.mass_g ? units.mass(analysis.mass_g) : ""}</span>
      <ToggleGroup label="Amounts read as" value={view} options={VIEWS} onChange={(key) => setView(key as View)} className="ml-auto max-md:order-1 max-md:-ml-1.5" />
      <button type="button" onClick={() => ask({ what: "table" })} className="underline max-md:order-1 max-md:ml-auto">
        table
      </button>
      <button type="button" aria-pressed={water} onClick={() => setWater(!water)} className="underline max-md:ml-auto">
        {water ? "leave water out" : "show water"}
      </button>
    </div>
  );
}

function StageLines({ lines, water, mistakable }: { lines: Line[]; water: boolean; mistakable: Record<string, string[]> }) {
  const actions = useBenchActions();
  const { draft } = useDraft();
  const { reading } = useReading();
  const { chosen, view } = useSelection();
  const { open, proposal } = useBalance();
  const { scale_g: step } = useKitchen();
  const lengths = draft.lines.map((line) => lengthOf(reading?.lines[line.key]?.strata ?? [], water));
  const most = roundUp(Math.max(...lengths, 1));
  const massG = reading?.analysis?.mass_g ?? null;
  const proposed = open ? (proposal?.lines ?? []) : [];
  return (
    <ul>
      {lines.map((line) => {
        const at = draft.lines.indexOf(line);
        const read = reading?.lines[line.key];
        return (
          <LineRow
            key={line.key}
            line={line}
            proposed={proposed.find((one) => one.line === at && changes(one))}
            reading={read}
            mixIn={reading?.mixIns[line.key]}
            mistakable={mistakable[line.key]}
            actions={actions}
            most={most}
            massG={view !== "typed" || read?.dose ? massG : null}
            step={step}
            view={view}
            water={water}
            chosen={chosen.has(line.key)}
            choosing={chosen.size > 0}
          />
        );
      })}
    </ul>
  );
}

function lengthOf(parts: Schemas["Part"][], water: boolean): number {
  return parts.reduce((sum, part) => sum + (water || part.key !== "water" ? part.grams : 0), 0);
}

const STEPS = [1, 1.25, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10];

/** A round length for the longest bar: the other bars stand still while one line is changed. */
function roundUp(grams: number): number {
  const ten = 10 ** Math.floor(Math.log10(grams));
  return ten * (STEPS.find((step) => step * ten >= grams * 0.999) ?? 10);
}
