import { useState } from "react";

import type { Schemas } from "../../api/client";
import { shown } from "../../ui/numbers";
import { FiguresStrip } from "./figures";

type Outcome = Schemas["OutcomeOut"];

/** How it eats: a track for each outcome, and beside them the reason for the one that is looked at. */
export function HowItEats({ analysis, style }: { analysis: Schemas["MixAnalysis"]; style: string | null }) {
  const [chosen, setChosen] = useState<string | null>(null);
  const [figures, setFigures] = useState(false);
  const { outcomes } = analysis;
  const worst = outcomes.find((outcome) => outcome.state !== "in") ?? outcomes[0];
  const looked = outcomes.find((outcome) => outcome.key === chosen) ?? worst;
  return (
    <section aria-labelledby="how-it-eats" className="panel px-4 py-3">
      <div className="flex items-baseline gap-3 pb-1">
        <h2 id="how-it-eats">How it eats</h2>
        <button type="button" aria-pressed={figures} onClick={() => setFigures(!figures)} className="ml-auto text-sm text-muted underline">
          {figures ? "back to how it eats" : "the figures behind it"}
        </button>
      </div>
      {figures ? (
        <FiguresStrip analysis={analysis} style={style} />
      ) : (
        <div className="grid gap-x-8 gap-y-2 xl:grid-cols-[7fr_4fr]">
          <ul className="grid content-start gap-x-8 lg:grid-cols-2">
            {outcomes.map((outcome) => (
              <li key={outcome.key}>
                <OutcomeTrack outcome={outcome} looked={outcome === looked} look={() => setChosen(outcome.key)} />
              </li>
            ))}
          </ul>
          {looked && <Why outcome={looked} names={analysis.names} />}
        </div>
      )}
    </section>
  );
}

function OutcomeTrack({ outcome, looked, look }: { outcome: Outcome; looked: boolean; look: () => void }) {
  const [least = 0, most = 1] = outcome.scale;
  const [low = 0, high = 0] = outcome.band;
  const at = (figure: number) => Math.min(100, Math.max(0, (100 * (figure - least)) / (most - least)));
  const out = outcome.state !== "in";
  return (
    <button
      type="button"
      aria-pressed={looked}
      aria-label={`${outcome.name}: ${outcome.word}`}
      onClick={look}
      onPointerEnter={look}
      className="-mx-1.5 grid w-full grid-cols-[4.75rem_3.25rem_minmax(3rem,1fr)_3.5rem_6.25rem] items-center gap-x-2 rounded-button px-1.5 py-0.5 text-left aria-pressed:bg-steel"
    >
      <b>{outcome.name}</b>
      <span className="text-right text-sm text-muted">{outcome.ends[0]}</span>
      <span className="relative h-2 rounded-sm bg-steel outline outline-line">
        <span
          className="absolute inset-y-0 rounded-sm border border-band-edge bg-band"
          style={{ left: `${at(low)}%`, width: `${Math.max(at(high) - at(low), 1.5)}%` }}
        />
        <span
          className="absolute -inset-y-1 w-1 -translate-x-1/2 rounded-full transition-[left] duration-150"
          style={{ left: `${at(outcome.value)}%`, background: out ? "var(--hot)" : "var(--needle)" }}
        />
      </span>
      <span className="text-sm text-muted">{outcome.ends[1]}</span>
      <span className={out ? "font-semibold text-hot" : ""}>{outcome.word}</span>
    </button>
  );
}

/** Why an outcome is as it is: its sentence, the terms it comes from, the rule; and what the law would call the mix. */
function Why({ outcome, names }: { outcome: Outcome; names: Schemas["NameOut"][] }) {
  const fitting = names.filter((name) => name.fits).map((name) => `${name.name} (${name.region})`);
  const missed = names.filter((name) => !name.fits);
  return (
    <div className="grid content-start gap-1 border-line xl:border-l xl:pl-5" aria-live="polite">
      <p>{outcome.reason}</p>
      <p className="text-sm text-muted">
        {outcome.terms.map((term) => `${term.name.toLowerCase()} ${shown(term.value, term.value < 10 ? 2 : 1)} ${term.unit}`).join(" · ")}
        {outcome.terms.length > 0 && " · "}rule {outcome.rule}
      </p>
      {names.length > 0 && (
        <details className="text-sm text-muted">
          <summary>
            By its figures it may be called {fitting.length > 0 ? fitting.join(", ") : "by none of the protected names"}. Guidance only.
          </summary>
          <ul>
            {missed.map((name) => (
              <li key={name.region + name.name}>
                Not {name.name} ({name.region}): {name.because}.
              </li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}
