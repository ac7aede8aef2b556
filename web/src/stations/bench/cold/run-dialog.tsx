import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, type Schemas } from "../../../shared/api/client";
import { machinesQuery } from "../../../shared/api/queries";
import { type Units, useUnits } from "../../../shared/format/units";
import { Button } from "../../../ui/button";
import { Learnt } from "../../../ui/learnt";
import { Select } from "../../../ui/select";
import { SheetDialog } from "../../../ui/sheet-dialog";
import { Why } from "../../../ui/why";
import { useBenchActions, useDraft } from "../bench-context";
import { bodyOf } from "../draft/draft";
import { useCold } from "./cold-context";
import { NumberField, TemperatureField } from "../../../ui/quantity-fields";
import { useMachineRuns, useRunForecast } from "./use-forecast";

type Run = Schemas["RunOut"];

/** The run in the machine: how long, how sure, what would help, and every other machine beside it. */
export function RunDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <SheetDialog open={open} onOpenChange={(now) => !now && onClose()} title="In the machine" wide>
      <RunInMachine />
    </SheetDialog>
  );
}

function RunInMachine() {
  const { ask } = useBenchActions();
  const { draft } = useDraft();
  const { data: run, error } = useRunForecast(true);
  const machine = useQuery(machinesQuery).data?.find((one) => one.id === draft.machine);
  return (
    <div className="grid gap-4">
      {error && (
        <p role="alert" className="text-hot">
          {error.message}
        </p>
      )}
      {run ? <TheRun run={run} /> : <p className="text-muted">{machine ? "This machine does not stir this mix: see how it hardens, over time." : "No machine is chosen for this mix. Which of yours?"}</p>}
      <Conditions machine={machine} run={run ?? null} />
      {run && run.remedies.length > 0 && <Remedies run={run} />}
      <WhichMachine />
      {run?.ice_g !== null && run?.ice_g !== undefined && (
        <Button className="justify-self-start" onClick={() => ask({ what: "ice" })}>
          Ice and salt for it…
        </Button>
      )}
    </div>
  );
}

function TheRun({ run }: { run: Run }) {
  const units = useUnits();
  return (
    <div className="grid gap-2" aria-live="polite">
      <p data-said className={`font-name text-lg font-bold ${run.drawn ? "" : "text-hot"}`}>{run.said}</p>
      <Minutes run={run} />
      <p className="text-sm text-muted">
        {run.runs === 1 ? "One run" : `${run.runs} runs`} of {units.mass(run.mass_g)}, {units.number(run.air_pct)}&nbsp;% air, {units.number(run.litres, 2)}&nbsp;L and {run.scoops} scoops in all. {run.why} {run.tuned} <Why of="run" /> <Learnt marks={run.learnt} />
      </p>
      {run.mind.map((sentence) => (
        <p key={sentence} className="border-l-3 border-hot pl-2 text-sm">
          {sentence}
        </p>
      ))}
    </div>
  );
}

const SCOOPS_EACH = 2;
const WIDTH = 640;
const HEIGHT = 150;
const LEFT = 44;
const BOTTOM = 22;

/** The temperature of the mix and of the wall by the minute, and where it is drawn, with its soft edge. */
function Minutes({ run }: { run: Run }) {
  const units = useUnits();
  const longest = Math.max(run.minutes, run.latest_min ?? 0, 5) * 1.12;
  const degrees = run.seen.flatMap((moment) => [moment.t_c, moment.wall_c]);
  const [coldest, warmest] = [Math.min(...degrees, -8), Math.max(...degrees, 2)];
  const x = (minute: number) => LEFT + ((WIDTH - LEFT - 8) * minute) / longest;
  const y = (celsius: number) => 8 + ((HEIGHT - BOTTOM - 8) * (warmest - celsius)) / (warmest - coldest);
  const path = (of: "t_c" | "wall_c") => run.seen.map((moment, index) => `${index ? "L" : "M"}${x(moment.minute).toFixed(1)} ${y(moment[of]).toFixed(1)}`).join("");
  const step = longest > 60 ? 20 : longest > 25 ? 10 : 5;
  const ticks = Array.from({ length: Math.floor(longest / step) + 1 }, (_, at) => at * step);
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="w-full" role="img" aria-label={`${run.said} Temperature of the mix and of the wall by the minute.`}>
      {run.earliest_min !== null && <rect x={x(run.earliest_min)} width={x(run.latest_min ?? longest) - x(run.earliest_min)} y="4" height={HEIGHT - BOTTOM - 4} fill="var(--band)" opacity="0.45" />}
      <line x1={LEFT} x2={WIDTH - 8} y1={y(0)} y2={y(0)} stroke="var(--line)" />
      <line x1={LEFT} x2={LEFT} y1="4" y2={HEIGHT - BOTTOM} stroke="var(--ink)" />
      <path d={path("wall_c")} fill="none" stroke="var(--curve)" strokeWidth="1.5" strokeDasharray="4 3" />
      <path d={path("t_c")} fill="none" stroke="var(--ink)" strokeWidth="2" />
      {run.drawn && <line x1={x(run.minutes)} x2={x(run.minutes)} y1="4" y2={HEIGHT - BOTTOM} stroke="var(--band-edge)" strokeWidth="2" />}
      <g fontSize="12" fill="var(--muted)">
        {[warmest, 0, coldest].map((at) => (
          <text key={at} x={LEFT - 6} y={y(at) + 4} textAnchor="end">
            {units.degrees(at, 0)}
          </text>
        ))}
        {ticks.map((minute) => (
          <text key={minute} x={x(minute)} y={HEIGHT - 6} textAnchor="middle">
            {minute === 0 ? "0 min" : minute}
          </text>
        ))}
      </g>
      <Ends run={run} x={x} y={y} />
    </svg>
  );
}

function Ends({ run, x, y }: { run: Run; x: (minute: number) => number; y: (celsius: number) => number }) {
  const last = run.seen.at(-1);
  if (!last) return null;
  return (
    <g fontSize="12" className="halo" fill="var(--ink)">
      <text x={Math.min(x(last.minute) + 6, WIDTH - 40)} y={y(last.t_c) - 6}>
        mix
      </text>
      <text x={Math.min(x(last.minute) + 6, WIDTH - 40)} y={y(last.wall_c) + 14} fill="var(--curve)">
        wall
      </text>
    </g>
  );
}

function Conditions({ machine, run }: { machine: Schemas["MachineOut"] | undefined; run: Run | null }) {
  const { conditions, setConditions } = useCold();
  const canister = machine?.kind === "canister";
  const programmes = machine?.programmes ?? [];
  return (
    <div className="grid grid-cols-2 items-start gap-3 sm:grid-cols-4">
      <TemperatureField label="Base" celsius={conditions.start_c} range={{ least: -5, most: 100 }} onChange={(start_c) => setConditions({ start_c })} />
      <TemperatureField label="Room" celsius={conditions.room_c} range={{ least: -10, most: 50 }} onChange={(room_c) => setConditions({ room_c })} />
      {canister && (
        <NumberField label="Bowl frozen, h" value={conditions.prefreeze_h} range={{ least: 0, most: 1000 }} onChange={(prefreeze_h) => setConditions({ prefreeze_h, gel_frozen_pct: null })} />
      )}
      {run && <NumberField label="Runs" value={conditions.runs ?? run.runs} range={{ least: 1, most: 20 }} onChange={(runs) => setConditions({ runs: Math.round(runs) })} />}
      {programmes.length > 0 && (
        <Select
          label="Programme"
          value={conditions.programme ?? programmes[0]!.name}
          options={programmes.map(({ name }) => ({ key: name, name }))}
          onChange={(programme) => setConditions({ programme })}
        />
      )}
      {canister && run?.left_pct !== null && run?.left_pct !== undefined && (
        <p className="col-span-2 flex items-end gap-3 text-sm text-muted sm:col-span-4">
          {conditions.gel_frozen_pct === null || conditions.gel_frozen_pct === undefined ? (
            <button type="button" className="underline" onClick={() => setConditions({ gel_frozen_pct: Math.round(run.left_pct ?? 0) })}>
              What would a second run at once do?
            </button>
          ) : (
            <>
              This is a run with {Math.round(conditions.gel_frozen_pct)}&nbsp;% of the bowl still frozen.
              <button type="button" className="underline" onClick={() => setConditions({ gel_frozen_pct: null })}>
                Back to a frozen bowl
              </button>
            </>
          )}
        </p>
      )}
    </div>
  );
}

/** Each change that would do it, with what comes of it: one press takes it. */
function Remedies({ run }: { run: Run }) {
  const take = useRemedy(run);
  return (
    <section aria-labelledby="would-do-it" className="grid gap-1.5">
      <h3 id="would-do-it">Would do it</h3>
      <ul className="grid gap-1">
        {run.remedies.map((remedy) => (
          <li key={remedy.kind} className="flex flex-wrap items-center gap-x-3 gap-y-1">
            <Button onClick={() => take.mutate(remedy)} disabled={take.isPending}>
              {remedy.said}
            </Button>
            <span className="text-sm text-muted">{remedy.then}</span>
          </li>
        ))}
      </ul>
      {take.error && <p role="alert">{take.error.message}</p>}
    </section>
  );
}

function useRemedy(run: Run) {
  const { edit } = useBenchActions();
  const { draft } = useDraft();
  const { setConditions } = useCold();
  return useMutation({
    mutationFn: async (remedy: Schemas["RemedyOut"]) => {
      if (remedy.kind === "colder-base") setConditions({ start_c: remedy.to });
      if (remedy.kind === "freeze-longer") setConditions({ prefreeze_h: remedy.to, gel_frozen_pct: null });
      if (remedy.kind === "runs") setConditions({ runs: Math.round(remedy.to) * run.runs });
      if (remedy.kind === "more-ice") setConditions({ ice: { ice_g: Math.round(remedy.to), salt_g: Math.round(remedy.salt_g ?? 0), water_g: 0, water_c: 10 } });
      if (remedy.kind !== "smaller") return;
      const body = { ...bodyOf(draft), by: "mass" as const, amount: `${Math.floor(remedy.to * run.runs)} g`, per_guest: 1 };
      const found = await answer(api.POST("/scalings", { body }));
      const lines = found.lines.map((one) => ({ key: draft.lines[one.line]!.key, typed: one.typed, unit: one.unit, grams: one.after_g }));
      edit({ kind: "scale", lines, times: found.times });
    },
  });
}

/** Which of my machines: all of them for this batch; one press takes it. */
function WhichMachine() {
  const { edit } = useBenchActions();
  const { draft } = useDraft();
  const { setConditions } = useCold();
  const units = useUnits();
  const [guests, setGuests] = useState(8);
  const { data: runs = [] } = useMachineRuns();
  if (runs.length === 0) return null;
  return (
    <section aria-labelledby="which-machine" className="grid gap-1.5">
      <div className="flex flex-wrap items-end justify-between gap-3">
        <h3 id="which-machine">Which of our machines</h3>
        <div className="w-44">
          <NumberField label="Guests, 2 scoops each" value={guests} range={{ least: 0, most: 10_000 }} onChange={(count) => setGuests(Math.round(count))} />
        </div>
      </div>
      <div className="overflow-x-auto">
        <table className="w-full text-sm">
          <thead>
            <tr className="text-right text-muted">
              <th className="text-left font-normal">Machine</th>
              <th className="font-normal">runs</th>
              <th className="font-normal">min each</th>
              <th className="font-normal">drawn at</th>
              <th className="font-normal">air</th>
              <th className="font-normal">litres</th>
              <th className="font-normal">scoops</th>
              <td />
            </tr>
          </thead>
          <tbody>
            {runs.map((run) => (
              <MachineRow
                key={run.machine}
                run={run}
                units={units}
                wanted={SCOOPS_EACH * guests}
                chosen={run.machine === draft.machine}
                take={() => {
                  setConditions({ runs: null, programme: null, gel_frozen_pct: null });
                  edit({ kind: "machine", machine: run.machine });
                }}
              />
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}

function MachineRow({ run, units, wanted, chosen, take }: { run: Schemas["MachineRun"]; units: Units; wanted: number; chosen: boolean; take: () => void }) {
  return (
    <tr className="border-t border-line text-right">
      <td className={`py-1 text-left ${chosen ? "font-semibold" : ""}`}>{run.name}</td>
      <td>
        {run.runs}&nbsp;×&nbsp;{units.mass(run.mass_g)}
      </td>
      <td className={run.drawn ? "" : "text-hot"}>{run.drawn ? units.number(run.minutes) : "stalls"}</td>
      <td className={run.drawn ? "" : "text-hot"}>{units.degrees(run.t_c)}</td>
      <td>{units.number(run.air_pct)}&nbsp;%</td>
      <td>{units.number(run.litres, 2)}</td>
      <td className={run.scoops < wanted ? "text-hot" : ""}>
        {run.scoops}
        {run.scoops < wanted && <span className="block text-xs">{wanted - run.scoops} short</span>}
      </td>
      <td className="pl-2">
        {chosen ? (
          <span className="text-muted">this one</span>
        ) : (
          <button type="button" className="underline" onClick={take}>
            take it
          </button>
        )}
      </td>
    </tr>
  );
}

