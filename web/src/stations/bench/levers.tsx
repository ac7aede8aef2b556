import { keepPreviousData, useQuery } from "@tanstack/react-query";

import { answer, api, type Schemas } from "../../api/client";
import { grams } from "../../ui/numbers";
import { bodyOf, type Draft, type Edit, type Exchange } from "./draft";
import type { DraftReading } from "./use-analysis";
import { useRested } from "./use-rested";

type Lever = Schemas["LeverOut"];

type Props = { outcome: Schemas["OutcomeOut"]; draft: Draft; freezer: number; reading: DraftReading | undefined; edit: (edit: Edit) => void };

/** The smallest exchanges that would bring an outcome back, each done with one press; together where one is not enough. */
export function Levers({ outcome, draft, freezer, reading, edit }: Props) {
  const now = { ...bodyOf(draft), freezer_c: freezer };
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

  function pull(levers: Lever[]) {
    const exchanges: Exchange[] = [];
    const left = new Map<string, number>();
    for (const lever of levers) {
      const line = draft.lines[lever.line];
      const weighs = line && (left.get(line.key) ?? reading?.lines[line.key]?.grams);
      if (!line || !weighs) return;
      left.set(line.key, weighs - lever.grams);
      exchanges.push({ key: line.key, left: weighs - lever.grams, coming: lever.ingredient, grams: lever.grams, stage: lever.stage });
    }
    edit({ kind: "exchange", exchanges });
  }

  return (
    <div>
      {found.levers.length > 0 && <h3>{found.together.length > 0 || found.otherwise ? "No single change cures it; these gain most" : "Would help"}</h3>}
      <ul className="text-sm">
        {found.levers.map((lever) => (
          <li key={lever.ingredient}>
            {said(lever)}: {lever.word}
            {lever.effect.said === NOTHING ? "" : <span className="text-muted">, {lever.effect.said}</span>}{" "}
            <button type="button" className="font-semibold text-hot underline" aria-label={`Try ${lever.name}`} onClick={() => pull([lever])}>
              Try
            </button>
          </li>
        ))}
      </ul>
      {found.together.length > 0 && (
        <p className="text-sm">
          <b>Together they do:</b> {found.together.map(said).join(", then ")}: {found.together.at(-1)?.word}{" "}
          <button type="button" className="font-semibold text-hot underline" aria-label="Try all together" onClick={() => pull(found.together)}>
            Try all
          </button>
        </p>
      )}
      {found.otherwise && <p className="text-sm">{found.otherwise}</p>}
    </div>
  );
}

/** What the server says of a change with no side effect. */
const NOTHING = "nothing that you would notice";

function said(lever: Lever): string {
  return `${grams(lever.grams)} g ${lever.line_name} → ${lever.name}`;
}
