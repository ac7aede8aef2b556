import { useQuery } from "@tanstack/react-query";
import { memo, useState } from "react";

import type { Schemas } from "../../../shared/api/client";
import { lastBatchQuery, machinesQuery } from "../../../shared/api/queries";
import { type Units, useUnits } from "../../../shared/format/units";
import { Key } from "../../../ui/button";
import { Select } from "../../../ui/select";
import { Why } from "../../../ui/why";
import { MachinesDialog } from "../../kitchen/machines";
import { useBenchActions, useDraft, useReading } from "../bench-context";
import { RunLine } from "../cold/run-line";
import type { DraftReading } from "../draft/use-analysis";

const MORE = "more";

/** The machine that a mix is meant for and how it fills it, always in sight: the mix, its air, and what is left. */
export function MachineFill() {
  const { mix, edit, ask } = useBenchActions();
  const { machine: number } = useDraft().draft;
  const { reading } = useReading();
  const units = useUnits();
  const lastBatch = useQuery(lastBatchQuery(mix.id, number)).data ?? null;
  const machines = useQuery(machinesQuery);
  const [asked, setAsked] = useState(false);
  const chosen = machines.data?.find((machine) => machine.id === number);
  const fill = reading?.fill ?? null;
  const before = lastBatch?.fill;
  const another = fill && before && before.word !== fill.word;
  return (
    <div className="grid w-full gap-0.5 text-sm leading-tight sm:w-[24.5rem]">
      <div className="flex items-baseline gap-2">
        <MachineChoice machines={machines.data} chosen={chosen?.id} askMore={setAsked} />
        <span className="shrink-0 text-muted">{volumes(reading, units)}</span>
      </div>
      {fill && chosen && <FillBar fill={fill} most={chosen.most_pct} />}
      <div className="flex items-baseline gap-3">
        {fill ? (
          <p className={fill.word === "scant" || fill.word === "overfull" ? "font-semibold text-hot" : "text-muted"} data-fill>
            {sentence(fill.message)} <Why of="fill" />
          </p>
        ) : (
          <p className="text-muted">{chosen ? "Its fill shows as soon as something is in it." : "Choose one to see how the mix fills it."}</p>
        )}
        <button type="button" onClick={() => ask({ what: "scale" })} className="ml-auto shrink-0 underline">
          resize <Key>S</Key>
        </button>
      </div>
      {fill && chosen && <RunLine />}
      {fill?.air_message && <p className="text-muted">{fill.air_message}</p>}
      {another && (
        <p className="font-semibold">
          Last made {units.day(lastBatch.begun_at)} {before.word}, {units.number(before.out_pct)} % with air: this fill is not proven yet.
        </p>
      )}
      <MachinesDialog
        open={asked}
        onClose={() => setAsked(false)}
        added={(machine) => number === null && edit({ kind: "machine", machine: machine.id })}
      />
    </div>
  );
}

type ChoiceProps = { machines: Schemas["MachineOut"][] | undefined; chosen: number | undefined; askMore: (asked: boolean) => void };

/** What it is frozen in; drawn anew only when that is another. */
const MachineChoice = memo(function MachineChoice({ machines = [], chosen, askMore }: ChoiceProps) {
  const { edit } = useBenchActions();
  const units = useUnits();
  return (
    <Select
      label="Machine"
      hideLabel
      value={String(chosen ?? "")}
      options={[
        { key: "", name: "no machine chosen" },
        ...machines.map((machine) => ({ key: String(machine.id), name: machineName(machine, units) })),
        { key: MORE, name: "machines of this kitchen…" },
      ]}
      onChange={(key) => (key === MORE ? askMore(true) : edit({ kind: "machine", machine: Number(key) || null }))}
      className="-ml-1 min-h-7 min-w-0 rounded-button border border-transparent bg-panel px-1 font-semibold hover:border-line"
    />
  );
});

/** A run in its bowl: the mix filled, its air hatched, the mark where it would be too much. */
export function FillBar({ fill, most }: { fill: Schemas["FillOut"]; most: number }) {
  const at = (pct: number) => `${Math.min(pct, 100)}%`;
  return (
    <span aria-hidden className="eased relative block h-2.5 overflow-hidden rounded-sm bg-steel outline outline-line">
      <span className="hatched absolute inset-y-0 left-0 moves" style={{ width: at(fill.out_pct) }} />
      <span className="absolute inset-y-0 left-0 bg-[var(--curve)] moves" style={{ width: at(fill.in_pct) }} />
      <span className="absolute inset-y-0 w-0.5 bg-ink" style={{ left: at(most) }} />
    </span>
  );
}

function machineName(machine: Schemas["MachineOut"], units: Units): string {
  return `${machine.name}, ${units.number(machine.bowl_l, machine.bowl_l % 1 ? 1 : 0)}\u00a0L`;
}

/** What goes into the machine and what comes out into the tub, with all that stands beside the mix. */
function volumes(reading: DraftReading | undefined, units: Units): string {
  const analysis = reading?.analysis;
  if (!analysis) return "";
  const goesIn = analysis.volume_l / (1 + analysis.overrun_pct / 100);
  return `${units.number(goesIn, 2)} L in, ${units.number(reading.product?.volume_l ?? analysis.volume_l, 2)} L out`;
}

function sentence(text: string): string {
  return `${text.charAt(0).toUpperCase()}${text.slice(1)}.`;
}
