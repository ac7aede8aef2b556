import { useQuery } from "@tanstack/react-query";
import { SlidersHorizontal } from "lucide-react";
import { memo } from "react";

import { Thermometer } from "../../../charts/thermometer";
import { answer, api, type Schemas } from "../../../shared/api/client";
import { shown } from "../../../shared/format/numbers";
import { Menu, MenuCheck, MenuLine } from "../../../ui/menu";
import { bodyOf, type Draft, writtenOf } from "../draft/draft";
import type { Highlighted } from "../draft/highlighted";

type Analysis = Schemas["MixAnalysis"];

/** What is drawn beside the mix: one of its revisions by number, and the line of another school. */
export type ChartComparison = { revision: number | null; comparison: boolean };

type Props = {
  analysis: Analysis | null;
  /** The draft that the analysis is of. */
  read: Draft;
  freezer: number;
  ours: number;
  setFreezer: (celsius: number) => void;
  keepFreezer: (celsius: number) => void;
  revisions: Schemas["RevisionOut"][];
  ghost: Analysis | undefined;
  compared: ChartComparison;
  setCompared: (compared: ChartComparison) => void;
  highlighted: Highlighted | null;
};

/** Going cold: the thermometer with its marks, and what may be drawn beside it. */
export const FreezingPanel = memo(function FreezingPanel(props: Props) {
  const { analysis, freezer, ours, compared, highlighted } = props;
  const body = bodyOf(props.read);
  const closer = useQuery({
    queryKey: ["analysis", "comparison", writtenOf(props.read)],
    queryFn: ({ signal }) => answer(api.POST("/details", { body, signal })),
    enabled: compared.comparison && analysis !== null,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  const comparison = compared.comparison ? closer.data?.comparison : undefined;
  return (
    <section aria-labelledby="going-cold" className="panel flex min-h-96 flex-col p-3.5 xl:min-h-0">
      <div className="flex items-baseline gap-3">
        <h2 id="going-cold">Going cold</h2>
        <span className="ml-auto flex items-baseline gap-3 text-sm text-muted">
          {freezer === ours ? (
            <span>{highlighted ? `${shown(highlighted.contributions.freezing ?? 0)} % of what keeps it liquid` : "width: % of the water that is ice"}</span>
          ) : (
            <>
              <button type="button" className="underline" onClick={() => props.setFreezer(ours)}>
                back to {shown(ours, Number.isInteger(ours) ? 0 : 1)}°
              </button>
              <button type="button" className="underline" onClick={() => props.keepFreezer(freezer)}>
                this is our freezer
              </button>
            </>
          )}
        </span>
        <span className="self-center">
          <Menu label="Compare on the chart" trigger={<SlidersHorizontal size={16} aria-hidden />}>
            <MenuLine>Draw beside this mix</MenuLine>
            {props.revisions.slice(0, 5).map(({ number, name }) => (
              <MenuCheck key={number} checked={compared.revision === number} onChange={(on) => props.setCompared({ ...compared, revision: on ? number : null })}>
                Revision {number}, {name} (dashed)
              </MenuCheck>
            ))}
            {props.revisions.length === 0 && <p className="px-2.5 py-1.5 text-sm text-muted">No revision is kept yet.</p>}
            <MenuCheck checked={compared.comparison} onChange={(on) => props.setCompared({ ...compared, comparison: on })}>
              The line by sucrose equivalents (dotted)
            </MenuCheck>
          </Menu>
        </span>
      </div>
      {comparison && <p className="text-sm text-muted">Dotted, by sucrose equivalents. {comparison.message}</p>}
      <div className="min-h-0 flex-1">
        {analysis ? (
          <Thermometer
            analysis={analysis}
            freezer={freezer}
            onFreezer={props.setFreezer}
            {...(props.ghost ? { ghost: props.ghost } : {})}
            {...(comparison ? { comparison } : {})}
            {...(highlighted ? { highlighted: (highlighted.contributions.freezing ?? 0) / 100 } : {})}
          />
        ) : (
          <NothingDrawn />
        )}
      </div>
    </section>
  );
});

export function NothingDrawn() {
  return <p className="grid h-full place-items-center text-muted">Drawn as soon as something is in it.</p>;
}
