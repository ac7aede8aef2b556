import { useQuery } from "@tanstack/react-query";
import { SlidersHorizontal } from "lucide-react";
import { lazy, Suspense } from "react";

import { Thermometer } from "../../../charts/thermometer";
import { answer, api } from "../../../shared/api/client";
import { useKitchen } from "../../../shared/api/kitchen";
import { useUnits } from "../../../shared/format/units";
import { ToggleGroup } from "../../../ui/toggle-group";
import { Menu, MenuCheck, MenuLine } from "../../../ui/menu";
import { useCold } from "../cold/cold-context";
import { useBenchActions, useComparison, useReading, useSelection } from "../bench-context";
import { bodyOf, type Draft, writtenOf } from "../draft/draft";

/** Going cold: the thermometer with its marks, and what may be drawn beside it. */
export function FreezingPanel() {
  const { setFreezer } = useBenchActions();
  const { analysis, reading, freezer } = useReading();
  const { ghost, compared } = useComparison();
  const { highlighted } = useSelection();
  const comparison = useComparisonLine(reading?.of ?? null, compared.comparison);
  const { face } = useCold();
  if (face === "time") {
    return (
      <section aria-labelledby="going-cold" className="panel flex min-h-[30rem] min-w-0 flex-col p-3.5 xl:min-h-0">
        <div className="flex items-baseline gap-3">
          <h2 id="going-cold">Going cold</h2>
          <FaceChoice />
          <span className="ml-auto self-center">
            <Suspense>
              <TubAndPlaces />
            </Suspense>
          </span>
        </div>
        <div className="min-h-0 flex-1">{analysis ? (
            <Suspense>
              <OverTimeFace />
            </Suspense>
          ) : (
            <NothingDrawn />
          )}</div>
      </section>
    );
  }
  return (
    <section aria-labelledby="going-cold" className="panel flex min-h-96 min-w-0 flex-col p-3.5 xl:min-h-0">
      <PanelHead />
      {comparison && <p className="text-sm text-muted">Dotted, by sucrose equivalents. {comparison.message}</p>}
      <div className="min-h-0 flex-1">
        {analysis ? (
          <Thermometer
            analysis={analysis}
            freezer={freezer}
            onFreezer={setFreezer}
            {...(ghost ? { ghost } : {})}
            {...(comparison ? { comparison } : {})}
            {...(highlighted ? { highlighted: (highlighted.contributions.freezing ?? 0) / 100 } : {})}
          />
        ) : (
          <NothingDrawn />
        )}
      </div>
    </section>
  );
}

/** The line of another school for a draft, while it is asked for. */
function useComparisonLine(draft: Draft | null, wanted: boolean) {
  const closer = useQuery({
    queryKey: ["analysis", "comparison", draft && writtenOf(draft)],
    queryFn: ({ signal }) => answer(api.POST("/details", { body: bodyOf(draft!), signal })),
    enabled: wanted && draft !== null,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  return wanted ? closer.data?.comparison : undefined;
}

const OverTimeFace = lazy(() => import("../cold/over-time-face").then(({ OverTimeFace }) => ({ default: OverTimeFace })));
const TubAndPlaces = lazy(() => import("../cold/over-time-face").then(({ TubAndPlaces }) => ({ default: TubAndPlaces })));

const FACES = [
  { key: "cold", name: "by cold" },
  { key: "time", name: "over time" },
];

function FaceChoice() {
  const { face, setFace } = useCold();
  return <ToggleGroup label="Going cold, seen" value={face} options={FACES} onChange={(key) => setFace(key === "time" ? "time" : "cold")} className="text-sm whitespace-nowrap text-muted" />;
}

function PanelHead() {
  const { setFreezer, keepFreezer, compareWith } = useBenchActions();
  const { freezer } = useReading();
  const { revisions, compared } = useComparison();
  const { highlighted } = useSelection();
  const { used_freezer_c: ours, freezer_c: set } = useKitchen();
  const units = useUnits();
  return (
    <div className="flex flex-wrap items-baseline gap-x-3">
      <h2 id="going-cold" className="whitespace-nowrap">
        Going cold
      </h2>
      <FaceChoice />
      <span className="ml-auto flex min-w-0 items-baseline gap-3 text-sm text-muted">
        {freezer === ours ? (
          <span className="truncate">{highlighted ? `${units.number(highlighted.contributions.freezing ?? 0)}\u00a0% of what keeps it liquid` : "width: % ice"}</span>
        ) : (
          <>
            <button type="button" className="underline" onClick={() => setFreezer(ours)}>
              back to {units.setting(ours)}
            </button>
            {ours === set && (
              <button type="button" className="underline" onClick={() => keepFreezer(freezer)}>
                this is our freezer
              </button>
            )}
          </>
        )}
      </span>
      <span className="self-center">
        <Menu label="Compare on the chart" trigger={<SlidersHorizontal size={16} aria-hidden />}>
          <MenuLine>Draw beside this mix</MenuLine>
          {revisions.slice(0, 5).map(({ number, name }) => (
            <MenuCheck key={number} checked={compared.revision === number} onChange={(on) => compareWith({ revision: on ? number : null })}>
              Revision {number}, {name} (dashed)
            </MenuCheck>
          ))}
          {revisions.length === 0 && <p className="px-2.5 py-1.5 text-sm text-muted">No revision is kept yet.</p>}
          <MenuCheck checked={compared.comparison} onChange={(on) => compareWith({ comparison: on })}>
            The line by sucrose equivalents (dotted)
          </MenuCheck>
        </Menu>
      </span>
    </div>
  );
}

export function NothingDrawn() {
  return <p className="grid h-full place-items-center text-muted">Drawn as soon as something is in it.</p>;
}
