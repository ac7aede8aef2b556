import type { Dispatch, SetStateAction } from "react";

import { PAINT } from "../../../charts/strata";
import type { Schemas } from "../../../shared/api/client";
import { useVocabulary } from "../../../shared/api/vocabulary";
import { useUnits } from "../../../shared/format/units";
import { PickIngredient } from "../pick-ingredient";
import { type Line, PreparationLines, ROW_HEIGHT } from "./lines";
import { StepChoice, StepFigures } from "./step-figures";
import { KINDS, newStep, type Step } from "./steps";
import { Feed, Strand } from "./strand";
import { AWAY, type Flow, FEED_WIDTH, type Layout, STEP_WIDTH } from "./strand-geometry";

const LEAST_HEIGHT = 190;
const STRAND_HEIGHT = 120;
const NOTHING: Flow = { grams: 0, strata: [] };

type DrawingProps = {
  lines: Line[];
  setLines: Dispatch<SetStateAction<Line[]>>;
  steps: Step[];
  setSteps: (steps: Step[]) => void;
  found: Schemas["PreparationPreview"] | undefined;
};

/**
 * A preparation as mass that flows from what goes in through each step to what one gets; the strand narrows by what
 * leaves, in the colours of what it is. What is typed stands where it happens, and the same is said in words below.
 */
export function Drawing({ lines, setLines, steps, setSteps, found }: DrawingProps) {
  const units = useUnits();
  const { strata } = useVocabulary();
  const order = [...strata].reverse().map(({ key }) => key);
  const height = Math.max(LEAST_HEIGHT, lines.length * ROW_HEIGHT + 8);
  const flow = found?.flow ?? [];
  const scale = STRAND_HEIGHT / Math.max(1, ...flow.map(({ grams }) => grams));
  const layout = { order, scale, height };
  const feed = (found?.lines ?? []).map((line, at) => ({ ...line, steeped: lines[at]?.steeped ?? false }));
  const put = (at: number, step: Step | null) => setSteps(step ? steps.map((other, index) => (index === at ? step : other)) : steps.filter((_, index) => index !== at));
  return (
    <section aria-label="How it is made" className="panel overflow-x-auto p-4">
      <div className="flex w-max min-w-full items-start">
        <div className="flex w-104 shrink-0 flex-col">
          <h2 className="h-8">Goes in</h2>
          <div className="flex">
            <div className="grid grow content-center" style={{ height }}>
              <PreparationLines lines={lines} setLines={setLines} />
            </div>
            <Feed lines={feed} rowHeight={ROW_HEIGHT} layout={layout} />
          </div>
          <div style={{ paddingRight: FEED_WIDTH }}>
            <PickIngredient
              label={lines.length === 0 ? "What goes in first?" : "What else goes in?"}
              withAmount
              picked={null}
              pick={(picked) => picked && setLines((before) => [...before, { key: `${picked.slug} ${Date.now()}`, picked, typed: picked.typed ?? "", steeped: false }])}
            />
          </div>
        </div>
        <ol className="flex shrink-0" aria-label="Steps">
          {steps.map((step, at) => (
            <li key={step.key} style={{ width: STEP_WIDTH }}>
              <StepHead number={at + 1} step={step} remove={() => put(at, null)} />
              <div className="relative" style={{ height }}>
                {flow[at + 1] && <Strand before={flow[at] ?? NOTHING} after={flow[at + 1] ?? NOTHING} layout={layout} up={KINDS[step.kind].up} />}
                <Away step={step} before={flow[at]} after={flow[at + 1]} scale={scale} />
              </div>
              <div className="grid gap-1.5 pr-3">
                <StepFigures number={at + 1} step={step} change={(now) => put(at, now)} />
                <p className="text-sm text-muted">{found?.messages[at]}</p>
              </div>
            </li>
          ))}
        </ol>
        <div className="min-w-56 grow">
          <h2 className="h-8">You get</h2>
          <Gotten flow={flow.at(-1)} layout={layout} />
          <p className="font-name text-xl font-bold">{found ? `${units.mass(found.yield_g)} of ${units.mass(found.put_in_g)}` : "Nothing yet"}</p>
          <div className="pt-2">
            <StepChoice add={(kind) => setSteps([...steps, newStep(kind, units)])} />
          </div>
        </div>
      </div>
    </section>
  );
}

function StepHead({ number, step, remove }: { number: number; step: Step; remove: () => void }) {
  return (
    <div className="flex h-8 items-baseline gap-2 pr-6">
      <h3 className="whitespace-nowrap">
        {number}. {KINDS[step.kind].short ?? KINDS[step.kind].name}
      </h3>
      <button type="button" className="ml-auto text-sm text-muted underline" onClick={remove} aria-label={`Remove step ${number}, ${KINDS[step.kind].name}`}>
        remove
      </button>
    </div>
  );
}

/** What leaves the strand at a step, where it leaves; or what comes in. */
function Away({ step, before, after, scale }: { step: Step; before: Flow | undefined; after: Flow | undefined; scale: number }) {
  const units = useUnits();
  if (!before || !after) return null;
  const gone = before.grams - after.grams;
  if (Math.abs(gone) < 0.5) return null;
  const { leaves, up } = KINDS[step.kind];
  const place = gone < 0 || up ? "top-0" : "bottom-0";
  return (
    <span className={`absolute text-xs leading-tight ${place}`} style={gone < 0 ? { right: AWAY + 8 } : { left: Math.min(AWAY + gone * scale + 6, STEP_WIDTH - 64), right: 4 }}>
      <b>{units.mass(Math.abs(gone))}</b> {gone < 0 ? "comes in" : leaves}
    </span>
  );
}

/** The end of the strand, each stratum with its letter and its share. */
function Gotten({ flow, layout }: { flow: Flow | undefined; layout: Layout }) {
  const { order, scale, height } = layout;
  const units = useUnits();
  const { strata } = useVocabulary();
  const names = new Map(strata.map(({ key, name }) => [key, name]));
  if (!flow) return <div style={{ height }} />;
  const parts = order.flatMap((key) => flow.strata.filter((part) => part.key === key));
  return (
    <div className="flex items-center gap-3" style={{ height }}>
      <div className="w-10 shrink-0 overflow-hidden rounded-r-button" aria-hidden="true">
        {parts.map(({ key, grams }) => (
          <div key={key} style={{ height: grams * scale, background: PAINT[key]?.colour, color: PAINT[key]?.on }} className="grid place-items-center overflow-hidden text-xs leading-none">
            {grams * scale > 12 && PAINT[key]?.letter}
          </div>
        ))}
      </div>
      <ul className="grid gap-0.5 text-sm">
        {parts.map(({ key, grams }) => (
          <li key={key}>
            <b>{units.mass(grams)}</b> {names.get(key)?.toLowerCase()}
          </li>
        ))}
      </ul>
    </div>
  );
}
