import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import type { Schemas } from "../../shared/api/client";
import { machinesQuery, mixQuery } from "../../shared/api/queries";
import { useVocabulary } from "../../shared/api/vocabulary";
import { readNumber } from "../../shared/format/numbers";
import { useUnits } from "../../shared/format/units";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { Select } from "../../ui/select";
import { useRecord } from "./use-record";

type Batch = Schemas["BatchOut"];

/** How long the machine took: what is logged here teaches the forecasts how fast it is. */
export function Churned({ batch }: { batch: Batch }) {
  return (
    <section aria-labelledby="churned" className="panel not-on-paper grid gap-2 p-4">
      <h2 id="churned" className="text-base">
        How long did it churn?
      </h2>
      {batch.churned ? <Logged batch={batch} run={batch.churned} /> : <LogRun batch={batch} />}
    </section>
  );
}

function useLogged(batchId: number) {
  const client = useQueryClient();
  const record = useRecord(batchId);
  const forget = () => {
    void client.invalidateQueries(machinesQuery);
    void client.invalidateQueries({ queryKey: ["analysis"] });
  };
  const log = (run: Schemas["Churned"] | null) => record.mutate({ kind: "churned", text: "", done: true, run }, { onSuccess: forget });
  return { record, log };
}

function Logged({ batch, run }: { batch: Batch; run: Schemas["ChurnedOut"] }) {
  const units = useUnits();
  const { record, log } = useLogged(batch.id);
  const apart = Math.round(100 * (run.factor - 1));
  const speed = Math.abs(apart) < 3 ? "as fast as its kind" : `${Math.abs(apart)} % ${apart > 0 ? "faster" : "slower"} than its kind`;
  return (
    <p>
      {run.machine_name}: {units.number(run.minutes, run.minutes % 1 ? 1 : 0)} min for {units.mass(run.grams ?? 0)} from {units.setting(run.start_c)}, {speed}.{" "}
      <button type="button" className="text-muted underline" disabled={record.isPending} onClick={() => log(null)}>
        take it back
      </button>
    </p>
  );
}

function LogRun({ batch }: { batch: Batch }) {
  const units = useUnits();
  const { machines: kinds } = useVocabulary();
  const machines = (useQuery(machinesQuery).data ?? []).filter((one) => kinds.find(({ key }) => key === one.kind)?.stirred);
  const meant = useQuery(mixQuery(batch.mix_id)).data?.machine;
  const [chosen, setChosen] = useState<number | null>(null);
  const [typed, setTyped] = useState({ minutes: "", start: units.typedTemperature(4), hours: "24" });
  const { record, log } = useLogged(batch.id);
  const machine = machines.find(({ id }) => id === (chosen ?? meant)) ?? machines[0];
  const [minutes, start_c, prefreeze_h] = [readNumber(typed.minutes), units.readTemperature(typed.start), readNumber(typed.hours)];
  if (!machine) return <p className="text-muted">There is no machine in this kitchen that stirs.</p>;
  return (
    <form
      aria-label="Log the run"
      className="grid grid-cols-2 items-end gap-3 sm:grid-cols-4"
      onSubmit={(event) => {
        event.preventDefault();
        if (minutes !== null && start_c !== null && prefreeze_h !== null) log({ machine: machine.id, minutes, start_c, prefreeze_h });
      }}
    >
      <div className="col-span-2">
        <Select label="In" value={String(machine.id)} options={machines.map(({ id, name }) => ({ key: String(id), name }))} onChange={(id) => setChosen(Number(id))} />
      </div>
      <Field label="Minutes" value={typed.minutes} inputMode="decimal" maxLength={6} onChange={(event) => setTyped({ ...typed, minutes: event.target.value })} />
      <Field label={`Base, ${units.temperatureUnit}`} value={typed.start} maxLength={6} onChange={(event) => setTyped({ ...typed, start: event.target.value })} />
      {machine.kind === "canister" && <Field label="Bowl frozen, h" value={typed.hours} inputMode="decimal" maxLength={6} onChange={(event) => setTyped({ ...typed, hours: event.target.value })} />}
      <Button type="submit" disabled={record.isPending || minutes === null || minutes <= 0 || start_c === null || prefreeze_h === null}>
        Log it
      </Button>
      {record.isError && (
        <p role="alert" className="col-span-2 text-hot sm:col-span-4">
          {record.error.message}
        </p>
      )}
    </form>
  );
}
