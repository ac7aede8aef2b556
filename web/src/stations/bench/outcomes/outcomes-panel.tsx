import { memo, useState } from "react";

import type { Schemas } from "../../../shared/api/client";
import { unbroken } from "../../../shared/format/numbers";
import { useUnits } from "../../../shared/format/units";
import { Key } from "../../../ui/button";
import { Learnt } from "../../../ui/learnt";
import { Track } from "../../../ui/track";
import { Why } from "../../../ui/why";
import { useReading, useSelection } from "../bench-context";
import { Adjustments } from "./adjustments";
import { DetailsDialog } from "./details-dialog";

type Outcome = Schemas["OutcomeOut"];

/** How it eats: a track for each outcome, and beside them the reason for the one that is looked at. */
export const OutcomesPanel = memo(function OutcomesPanel({ balance }: { balance: () => void }) {
  const { analysis, reading, sure } = useReading();
  const { highlighted } = useSelection();
  const [chosen, setChosen] = useState<string | null>(null);
  const [figures, setFigures] = useState(false);
  const outcomes = analysis?.outcomes ?? [];
  const worst = outcomes.find(isFault) ?? outcomes[0];
  const looked = outcomes.find((outcome) => outcome.key === chosen) ?? worst;
  return (
    <section aria-labelledby="how-it-eats" className="panel flex flex-col px-4 py-3 xl:h-[15.25rem] xl:shrink-0">
      <div className="flex items-baseline gap-3 pb-1">
        <h2 id="how-it-eats">How it eats</h2>
        <span className="ml-auto flex items-baseline gap-4 text-sm">
          <button type="button" onClick={() => setFigures(true)} className="text-muted underline">
            the figures behind it
          </button>
          <button type="button" onClick={balance} className="font-semibold underline">
            Balance <Key>B</Key>
          </button>
        </span>
      </div>
      <div className="grid min-h-0 gap-x-7 gap-y-2 xl:grid-cols-[minmax(0,1fr)_23rem]">
        <ul className="grid content-start gap-x-8 lg:grid-cols-2">
          {outcomes.map((outcome) => (
            <li key={outcome.key}>
              <OutcomeTrack outcome={outcome} looked={outcome === looked} look={() => setChosen(outcome.key)} share={highlighted?.contributions[SHARED[outcome.key] ?? outcome.key]} />
            </li>
          ))}
        </ul>
        {looked && (
          <div className="grid min-h-0 content-start gap-1 overflow-y-auto border-line xl:border-l xl:pl-5">
            <p aria-live="polite" className="text-sm">
              {unbroken(looked.reason)} <Learnt marks={looked.learnt} />
            </p>
            {isFault(looked) && sure && <Adjustments outcome={looked} />}
            <Terms outcome={looked} />
          </div>
        )}
      </div>
      {reading && <DetailsDialog draft={reading.of} open={figures} onClose={() => setFigures(false)} />}
    </section>
  );
});

/** Whether an outcome is out of its band by as much as anyone notices. */
function isFault({ state }: Outcome): boolean {
  return state === "low" || state === "high";
}

/** Outcomes whose share goes by another name than their own. */
const SHARED: Record<string, string> = { firmness: "freezing", melt: "iciness" };

function OutcomeTrack({ outcome, looked, look, share }: { outcome: Outcome; looked: boolean; look: () => void; share: number | undefined }) {
  const units = useUnits();
  const [least = 0, most = 1] = outcome.scale;
  const [low = 0, high = 0] = outcome.band;
  const out = isFault(outcome);
  return (
    <button
      type="button"
      aria-pressed={looked}
      onClick={look}
      onFocus={look}
      className="-mx-1.5 grid w-full grid-cols-[4.75rem_3.25rem_minmax(3rem,1fr)_3.5rem_6.25rem] items-center gap-x-2 rounded-button px-1.5 py-0.5 text-left aria-pressed:outline aria-pressed:outline-muted"
    >
      <b>{outcome.name}</b>
      <span aria-hidden className="text-right text-sm text-muted">
        {outcome.ends[0]}
      </span>
      <Track range={[least, most]} band={[low, high]} needles={[{ at: outcome.value, colour: out ? "var(--hot)" : "var(--needle)" }]}>
        {share !== undefined && <span className="absolute -bottom-1 left-0 h-1 rounded-sm bg-ink" style={{ width: `${share}%` }} />}
      </Track>
      <span aria-hidden className="text-sm whitespace-nowrap text-muted">
        {share === undefined ? outcome.ends[1] : <b className="text-ink">{units.number(share)}&nbsp;%</b>}
      </span>
      <span className={out ? "font-semibold text-hot" : ""}>{outcome.state === "edge" ? "on the edge" : outcome.word}</span>
    </button>
  );
}

/** The terms that an outcome comes from, and the rule. */
function Terms({ outcome }: { outcome: Outcome }) {
  const units = useUnits();
  const terms = outcome.terms.map((term) => `${term.name.toLowerCase()} ${units.figure(term.value, term.unit, term.value < 10 ? 2 : 1)}`);
  return (
    <details className="text-sm text-muted">
      <summary>Why</summary>
      {terms.join(" · ")}
      {terms.length > 0 && " · "}rule {outcome.rule} <Why of={outcome.key} />
    </details>
  );
}
