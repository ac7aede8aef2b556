import { useCallback, useState } from "react";

import type { Schemas } from "../../../shared/api/client";
import { useVocabulary } from "../../../shared/api/vocabulary";
import { shown } from "../../../shared/format/numbers";
import { changes } from "../balance/proposal";
import { byStage, type Draft, type Edit } from "../draft/draft";
import type { Highlighted } from "../draft/highlighted";
import type { DraftReading } from "../draft/use-analysis";
import { AddLine } from "./add-line";
import { ChosenLines } from "./chosen-lines";
import type { OpenLineDialog } from "./line-menu";
import { LineRow } from "./line-row";
import { LineTolerance } from "./line-tolerance";
import { type View, VIEWS } from "./view";

type Props = {
  draft: Draft;
  reading: DraftReading | undefined;
  edit: (edit: Edit) => void;
  freezer: number;
  step: number;
  pointed: string | null;
  point: (key: string | null) => void;
  highlighted: Highlighted | null;
  proposal: Schemas["Proposal"] | null;
  view: View;
  setView: (view: View) => void;
  chosen: ReadonlySet<string>;
  choose: (key: string) => void;
  letGo: () => void;
  ask: OpenLineDialog;
  table: () => void;
};

/** What goes in: every line by its stage, its length grams and its colours what it brings. */
export function LinesPanel(props: Props) {
  const { draft, reading, edit, freezer, pointed, point, highlighted, proposal, view, chosen } = props;
  const { stages, mix_in_stages: mixInStages } = useVocabulary();
  const [water, setWater] = useState(false);
  const [mistakable, setMistakable] = useState<Record<string, string[]>>({});
  const added = useCallback((key: string, mistakenFor: string[]) => setMistakable((before) => ({ ...before, [key]: mistakenFor })), []);
  const groups = byStage(draft.lines, stages.map((stage) => stage.key));
  const stageName = new Map(stages.map((stage) => [stage.key, stage.name]));
  const lengths = draft.lines.map((line) => lengthOf(reading?.lines[line.key]?.strata ?? [], water));
  const most = roundUp(Math.max(...lengths, 1));
  const massG = reading?.analysis?.mass_g ?? null;

  return (
    <section aria-labelledby="goes-in" className="panel flex min-h-0 min-w-0 flex-col p-3.5">
      <div className="mb-1 flex flex-wrap items-baseline gap-x-3 text-sm text-muted">
        <h2 id="goes-in" className="text-[1rem] text-ink">
          Goes in
        </h2>
        <span className="text-[1rem]">{massG ? `${shown(massG)} g` : ""}</span>
        <span role="group" aria-label="Amounts read as" className="ml-auto flex gap-0.5 max-md:order-1 max-md:-ml-1.5">
          {VIEWS.map(({ key, name }) => (
            <button key={key} type="button" aria-pressed={view === key} onClick={() => props.setView(key)} className="rounded-button px-1.5 aria-pressed:bg-steel aria-pressed:font-semibold aria-pressed:text-ink">
              {name}
            </button>
          ))}
        </span>
        <button type="button" onClick={props.table} className="underline max-md:order-1 max-md:ml-auto">
          table
        </button>
        <button type="button" aria-pressed={water} onClick={() => setWater(!water)} className="underline max-md:ml-auto">
          {water ? "leave water out" : "show water"}
        </button>
      </div>
      <div className="-mx-1 min-h-0 flex-1 overflow-y-auto px-1" onPointerLeave={() => point(null)}>
        {groups.map((group) => (
          <div key={group.stage ?? "first"} role="group" aria-label={stageName.get(group.stage ?? "") ?? "First"} className="mb-1.5">
            <h3 className="pt-1 font-sans text-sm font-bold tracking-normal">{stageName.get(group.stage ?? "") ?? "First"}</h3>
            <ul>
              {group.lines.map((line) => (
                <LineRow
                  key={line.key}
                  line={line}
                  proposed={proposal?.lines.find((one) => one.line === draft.lines.indexOf(line) && changes(one))}
                  reading={reading?.lines[line.key]}
                  mixIn={reading?.mixIns[line.key]}
                  mistakable={mistakable[line.key]}
                  ask={props.ask}
                  point={point}
                  most={most}
                  massG={view !== "typed" || reading?.lines[line.key]?.dose ? massG : null}
                  step={props.step}
                  view={view}
                  water={water}
                  chosen={chosen.has(line.key)}
                  choosing={chosen.size > 0}
                  choose={props.choose}
                  edit={edit}
                />
              ))}
            </ul>
          </div>
        ))}
        {draft.lines.length === 0 && (
          <p className="py-6 text-muted">
            Nothing in it yet. Find the first ingredient below, then say how much: <b>480</b>, <b>½ cup</b>, <b>1 1/2 oz</b> or <b>4 yolks</b>.
          </p>
        )}
      </div>
      {chosen.size > 0 ? (
        <ChosenLines chosen={chosen} draft={draft} reading={reading} edit={edit} letGo={props.letGo} />
      ) : (
        <LineTolerance draft={draft} freezer={freezer} lineKey={pointed} highlighted={highlighted} />
      )}
      <AddLine
        edit={edit}
        lastStage={draft.lines.findLast((line) => !mixInStages.includes(line.stage ?? ""))?.stage ?? "pot"}
        first={draft.lines.length === 0}
        added={added}
      />
    </section>
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
