import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { flushSync } from "react-dom";

import type { Schemas } from "../../shared/api/client";
import { useKitchen } from "../../shared/api/kitchen";
import { useVocabulary } from "../../shared/api/vocabulary";
import { allergenSentence } from "../../shared/format/sentences";
import { useUnits } from "../../shared/format/units";
import { useBenchActions, useComparison, useDraft, useReading } from "./bench-context";
import { PrintedCautions } from "./guest-cautions";
import { byStage, type Draft } from "./draft/draft";
import type { DraftReading } from "./draft/use-analysis";
import { CellsTable, tableKey } from "./lines/composition-table";
import { MethodSteps } from "./method";

/** The mix on paper: what to weigh, by stage, with room to tick it off, what it will be, and the method. */
export function MixSheet() {
  return usePrinting() ? <Sheet /> : null;
}

/** Whether the page is being printed; the sheet is made in time for the printer, and not on every edit before. */
function usePrinting(): boolean {
  const [printing, setPrinting] = useState(false);
  useEffect(() => {
    const paper = window.matchMedia("print");
    const begin = () => flushSync(() => setPrinting(true));
    const end = () => setPrinting(false);
    const change = () => (paper.matches ? begin() : end());
    window.addEventListener("beforeprint", begin);
    window.addEventListener("afterprint", end);
    paper.addEventListener("change", change);
    return () => {
      window.removeEventListener("beforeprint", begin);
      window.removeEventListener("afterprint", end);
      paper.removeEventListener("change", change);
    };
  }, []);
  return printing;
}

function Sheet() {
  const { mix } = useBenchActions();
  const { draft } = useDraft();
  const { reading } = useReading();
  const { based } = useComparison();
  const kitchen = useKitchen();
  const units = useUnits();
  const { stages, styles } = useVocabulary();
  const table = useQueryClient().getQueryData<Schemas["TableOut"]>(tableKey(draft));
  const analysis = reading?.analysis;
  const names = new Map(stages.map((stage) => [stage.key, stage.name]));
  const style = styles.find(({ key }) => key === draft.style)?.name;
  const figures = analysis && [
    `fat ${units.number(analysis.figures.fat, 1)} %`,
    `milk solids not fat ${units.number(analysis.figures.msnf, 1)} %`,
    `sugars ${units.number(analysis.figures.sugars, 1)} %`,
    `solids ${units.number(analysis.figures.total_solids, 1)} %`,
    `sweetness ${units.number(analysis.figures.sweetness_pod, 1)}`,
    analysis.scoop_c === null ? "" : `scoops at ${units.temperature(analysis.scoop_c)}`,
  ];
  return (
    <article className="sheet-only-on-paper" data-sheet>
      <h1 className="text-2xl">{draft.name}</h1>
      <p>
        {[style, analysis && units.mass(analysis.mass_g), `air ${draft.overrunRead ?? 30} %`, based && `revision ${based.number}, ${based.name}`, kitchen.name, units.day(new Date().toISOString())]
          .filter(Boolean)
          .join(" · ")}
      </p>
      {reading?.fill && <p>In the machine: {reading.fill.message}.</p>}
      <table className="my-3 w-full">
        <tbody>
          {byStage(draft.lines, stages.map(({ key }) => key)).map((group) => (
            <SheetStage key={group.stage ?? "first"} name={names.get(group.stage ?? "") ?? "First"} lines={group.lines} reading={reading} />
          ))}
        </tbody>
      </table>
      {analysis && (
        <>
          <p className="font-bold">{analysis.verdict}</p>
          <p>{figures?.filter(Boolean).join(", ")}.</p>
          <p>{reading && allergenSentence(reading)}</p>
          {analysis.cautions.map((caution) => (
            <p key={caution}>{caution}</p>
          ))}
        </>
      )}
      {reading && <PrintedCautions cautions={reading.guestCautions} />}
      {table && (
        <section className="mt-3">
          <h2>The table</h2>
          <CellsTable table={table} rows={table.rows} />
        </section>
      )}
      {mix.method.length > 0 && (
        <section className="mt-3">
          <h2>Method</h2>
          <MethodSteps steps={mix.method} />
        </section>
      )}
    </article>
  );
}

function SheetStage({ name, lines, reading }: { name: string; lines: Draft["lines"]; reading: DraftReading | undefined }) {
  const units = useUnits();
  return (
    <>
      <tr>
        <th colSpan={4} scope="rowgroup" className="pt-2 text-left">
          {name}
        </th>
      </tr>
      {lines.map((line) => {
        const read = reading?.lines[line.key];
        return (
          <tr key={line.key} className="break-inside-avoid border-b border-line">
            <td className="w-8 py-1">
              <span className="inline-block size-4 border border-ink align-middle" />
            </td>
            <td className="py-1">
              {read?.name ?? line.ingredient}
              {line.note && <i> ({line.note})</i>}
            </td>
            <td className="py-1 text-right font-bold whitespace-nowrap">{read?.grams == null ? "—" : units.mass(read.grams)}</td>
            <td className="w-32 py-1 pl-4 whitespace-nowrap">{read?.measure ?? ""}</td>
          </tr>
        );
      })}
    </>
  );
}
