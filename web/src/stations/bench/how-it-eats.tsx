import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import { answer, api, type Schemas } from "../../api/client";
import { grams, shown } from "../../ui/numbers";
import { bodyOf, type Draft, type Edit } from "./draft";
import { FiguresStrip } from "./figures";
import type { DraftReading } from "./use-analysis";

type Outcome = Schemas["OutcomeOut"];

/** How it eats: a track for each outcome, and beside them the reason for the one that is looked at. */
export function HowItEats(props: {
  analysis: Schemas["MixAnalysis"];
  draft: Draft;
  freezer: number;
  reading: DraftReading | undefined;
  edit: (edit: Edit) => void;
}) {
  const { analysis } = props;
  const [chosen, setChosen] = useState<string | null>(null);
  const [figures, setFigures] = useState(false);
  const { outcomes } = analysis;
  const worst = outcomes.find((outcome) => outcome.state !== "in") ?? outcomes[0];
  const looked = outcomes.find((outcome) => outcome.key === chosen) ?? worst;
  return (
    <section aria-labelledby="how-it-eats" className="panel flex flex-col px-4 py-3 xl:h-[13.75rem] xl:shrink-0">
      <div className="flex items-baseline gap-3 pb-1">
        <h2 id="how-it-eats">How it eats</h2>
        <button type="button" aria-pressed={figures} onClick={() => setFigures(!figures)} className="ml-auto text-sm text-muted underline">
          {figures ? "back to how it eats" : "the figures behind it"}
        </button>
      </div>
      {figures ? (
        <div className="grid min-h-0 gap-2 overflow-y-auto">
          <FiguresStrip analysis={analysis} style={props.draft.style} />
          <Names draft={props.draft} />
        </div>
      ) : (
        <div className="grid min-h-0 gap-x-7 gap-y-2 xl:grid-cols-[minmax(0,1fr)_23rem]">
          <ul className="grid content-start gap-x-8 lg:grid-cols-2">
            {outcomes.map((outcome) => (
              <li key={outcome.key}>
                <OutcomeTrack outcome={outcome} looked={outcome === looked} look={() => setChosen(outcome.key)} />
              </li>
            ))}
          </ul>
          {looked && (
            <div className="grid min-h-0 content-start gap-1 overflow-y-auto border-line xl:border-l xl:pl-5">
              <Why outcome={looked} />
              {looked.state !== "in" && <Levers {...props} outcome={looked} />}
            </div>
          )}
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
      onClick={look}
      onFocus={look}
      className="-mx-1.5 grid w-full grid-cols-[4.75rem_3.25rem_minmax(3rem,1fr)_3.5rem_6.25rem] items-center gap-x-2 rounded-button px-1.5 py-0.5 text-left aria-pressed:outline aria-pressed:outline-muted"
    >
      <b>{outcome.name}</b>
      <span aria-hidden className="text-right text-sm text-muted">
        {outcome.ends[0]}
      </span>
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
      <span aria-hidden className="text-sm text-muted">
        {outcome.ends[1]}
      </span>
      <span className={out ? "font-semibold text-hot" : ""}>{outcome.word}</span>
    </button>
  );
}

/** Why an outcome is as it is: its sentence, the terms it comes from, and the rule. */
function Why({ outcome }: { outcome: Outcome }) {
  const terms = outcome.terms.map((term) => `${term.name.toLowerCase()} ${shown(term.value, term.value < 10 ? 2 : 1)} ${term.unit}`);
  return (
    <div aria-live="polite">
      <p className="text-sm">{outcome.reason}</p>
      <details className="text-sm text-muted">
        <summary>Why</summary>
        {terms.join(" · ")}
        {terms.length > 0 && " · "}rule {outcome.rule}
      </details>
    </div>
  );
}

/** The smallest exchanges that would bring an outcome back, each done with one press; or the honest none. */
function Levers(props: { outcome: Outcome; draft: Draft; freezer: number; reading: DraftReading | undefined; edit: (edit: Edit) => void }) {
  const { outcome, draft, reading, edit } = props;
  const now = { ...bodyOf(draft), freezer_c: props.freezer };
  const body = useRested(now);
  const helped = useQuery({
    queryKey: ["analysis", "levers", body],
    queryFn: ({ signal }) => answer(api.POST("/api/levers", { body, signal })),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  const found = helped.data?.find((help) => help.key === outcome.key);
  if (!found || helped.isPlaceholderData || JSON.stringify(now) !== JSON.stringify(body)) return null;

  function pull(lever: Schemas["LeverOut"]) {
    const line = draft.lines[lever.line];
    const weighs = line && reading?.lines[line.key]?.grams;
    if (!line || !weighs) return;
    edit({ kind: "exchange", key: line.key, left: weighs - lever.grams, coming: lever.ingredient, grams: lever.grams, stage: lever.stage });
  }

  return (
    <div>
      <h3>{found.cured ? "Would help" : found.levers.length > 0 ? "Nothing small cures it; would help most" : "Nothing small helps"}</h3>
      <ul className="text-sm">
        {found.levers.map((lever) => (
          <li key={lever.ingredient} title={`Else: ${lever.effect.said}`}>
            {grams(lever.grams)} g {lever.line_name} → {lever.name}: {lever.word}{" "}
            <button type="button" className="font-semibold text-hot underline" aria-label={`Try ${lever.name}`} onClick={() => pull(lever)}>
              Try
            </button>
          </li>
        ))}
      </ul>
      {outcome.key === "firmness" && !found.cured && <p className="text-sm text-muted">Or take it out earlier, or keep the tub in a warmer place.</p>}
    </div>
  );
}

const REST_MS = 350;

/** A value once it has not changed for a moment: what is slow to compute waits until the hands rest. */
function useRested<T>(value: T): T {
  const [rested, setRested] = useState(value);
  const written = JSON.stringify(value);
  useEffect(() => {
    const timer = window.setTimeout(() => setRested(JSON.parse(written) as T), REST_MS);
    return () => window.clearTimeout(timer);
  }, [written]);
  return rested;
}

/** What the law of some places would call the mix, by its figures. */
function Names({ draft }: { draft: Draft }) {
  const body = useRested(bodyOf(draft));
  const asked = useQuery({
    queryKey: ["analysis", "names", body],
    queryFn: () => answer(api.POST("/api/names", { body })),
    placeholderData: keepPreviousData,
  });
  const names = asked.data ?? [];
  if (names.length === 0) return null;
  const fitting = names.filter((name) => name.fits).map((name) => `${name.name} (${name.region})`);
  return (
    <details className="text-sm text-muted">
      <summary>By its figures it may be called {fitting.length > 0 ? fitting.join(", ") : "by none of the protected names"}</summary>
      Guidance only; ask your local authority.
      <ul>
        {names
          .filter((name) => !name.fits)
          .map((name) => (
            <li key={name.region + name.name}>
              Not {name.name} ({name.region}): {name.because}.
            </li>
          ))}
      </ul>
    </details>
  );
}
