import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import type { Schemas } from "../../../shared/api/client";
import { machinesQuery } from "../../../shared/api/queries";
import { day, shown } from "../../../shared/format/numbers";
import { Key } from "../../../ui/button";
import { Why } from "../../../ui/why";
import { MachinesDialog } from "../../shelf/kitchen/machines";
import type { Edit } from "../draft/draft";
import type { DraftReading } from "../draft/use-analysis";

type Props = {
  machine: number | null;
  reading: DraftReading | undefined;
  lastBatch: Schemas["LastBatch"] | null;
  edit: (edit: Edit) => void;
  scale: () => void;
};

const MORE = "more";

/** The machine that a mix is meant for and how it fills it, always in sight: the mix, its air, and what is left. */
export function MachineFill({ machine: number, reading, lastBatch, edit, scale }: Props) {
  const machines = useQuery(machinesQuery);
  const [asked, setAsked] = useState(false);
  const chosen = machines.data?.find((machine) => machine.id === number);
  const fill = reading?.fill ?? null;
  const before = lastBatch?.fill;
  const another = fill && before && before.word !== fill.word;
  return (
    <div className="grid w-full gap-0.5 text-sm sm:w-[24.5rem]">
      <div className="flex items-baseline gap-2">
        <select
          aria-label="Machine"
          value={chosen?.id ?? ""}
          onChange={(event) => (event.target.value === MORE ? setAsked(true) : edit({ kind: "machine", machine: Number(event.target.value) || null }))}
          className="-ml-1 min-w-0 flex-1 rounded-button border border-transparent bg-panel px-1 font-semibold hover:border-line"
        >
          <option value="">no machine chosen</option>
          {machines.data?.map((machine) => (
            <option key={machine.id} value={machine.id}>
              {machine.name}, {shown(machine.bowl_l, machine.bowl_l % 1 ? 1 : 0)} L
            </option>
          ))}
          <option value={MORE}>machines of this kitchen…</option>
        </select>
        <span className="shrink-0 text-muted">{volumes(reading)}</span>
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
        <button type="button" onClick={scale} className="ml-auto shrink-0 underline">
          resize <Key>S</Key>
        </button>
      </div>
      {fill?.air_message && <p className="text-muted">{fill.air_message}</p>}
      {another && (
        <p className="font-semibold">
          Last made {day(lastBatch.begun_at)} {before.word}, {shown(before.out_pct)} % with air: this fill is not proven yet.
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

/** What goes into the machine and what comes out into the tub, with all that stands beside the mix. */
function volumes(reading: DraftReading | undefined): string {
  const analysis = reading?.analysis;
  if (!analysis) return "";
  const goesIn = analysis.volume_l / (1 + analysis.overrun_pct / 100);
  return `${shown(goesIn, 2)} L in, ${shown(reading.product?.volume_l ?? analysis.volume_l, 2)} L out`;
}

function sentence(text: string): string {
  return `${text.charAt(0).toUpperCase()}${text.slice(1)}.`;
}
