import { useQuery } from "@tanstack/react-query";
import { Check, Printer } from "lucide-react";
import { useId } from "react";
import { Link, useParams } from "react-router";

import type { Schemas } from "../../shared/api/client";
import { batchQuery } from "../../shared/api/queries";
import { useVocabulary } from "../../shared/api/vocabulary";

import { Button } from "../../ui/button";
import { Waiting } from "../../ui/waiting";
import { Churned } from "./churned";
import { LatePresses } from "./late-presses";
import { LotsUsed } from "./lots-used";
import { Outcome } from "./outcome";
import { StepsOnPaper } from "./steps-on-paper";
import { Tubs } from "./tubs";
import { useRecord } from "./use-record";
import { useUnits } from "../../shared/format/units";
import { useKept } from "../../shared/use-kept";

type Batch = Schemas["BatchOut"];

/** The sheet of one batch: what to weigh, what was weighed, and what that makes of it. */
export function BatchSheet() {
  const batchId = Number(useParams().batchId);
  const batch = useQuery(batchQuery(batchId));
  return <Waiting query={batch}>{(found) => <Sheet batch={found} />}</Waiting>;
}

function Sheet({ batch }: { batch: Batch }) {
  const units = useUnits();
  const { stages } = useVocabulary();
  const numbered = batch.lines.map((line, number) => ({ line, number }));
  const groups = [{ key: null, name: "First" }, ...stages]
    .map((stage) => ({ ...stage, lines: numbered.filter(({ line }) => (line.stage ?? null) === stage.key) }))
    .filter((group) => group.lines.length > 0);
  const planned = batch.lines.reduce((sum, line) => sum + line.planned_g, 0);

  return (
    <div className="px-4 pt-4 pb-8">
      <header className="flex flex-wrap items-center gap-x-4 gap-y-2 pb-3">
        <div className="mr-auto">
          <h1 className="text-2xl">{batch.mix_name}</h1>
          <p className="text-muted">
            Batch {batch.number}, {units.day(batch.begun_at)}
            {batch.begun_by ? `, by ${batch.begun_by}` : ""} · revision {batch.revision} · {units.mass(planned)}
          </p>
        </div>
        <Link to={`/make/${batch.id}`} className="not-on-paper inline-flex min-h-[24px] items-center underline">
          Make it step by step
        </Link>
        <Link to={`/taste/${batch.id}`} className="not-on-paper inline-flex min-h-[24px] items-center underline">
          Taste it
        </Link>
        <Link to={`/bench/${batch.mix_id}`} className="not-on-paper inline-flex min-h-[24px] items-center underline">
          The mix on the Bench
        </Link>
        <Button className="not-on-paper" onClick={() => window.print()}>
          <Printer size={16} aria-hidden /> Print
        </Button>
      </header>
      <div className="grid items-start gap-3 xl:grid-cols-[minmax(0,7fr)_minmax(0,5fr)] print:block">
        <div className="grid gap-3">
          <section aria-label="Sheet" className="panel p-4 print:border-0 print:p-0">
            <div className="grid grid-cols-[56px_minmax(0,1fr)_4rem_6.5rem] sm:grid-cols-[56px_minmax(0,1fr)_5rem_7rem] gap-x-3 border-b border-line pb-1 text-sm text-muted">
              <span>In</span>
              <span>What</span>
              <span className="text-right">Target</span>
              <span className="text-right">As made</span>
            </div>
            {groups.map((group) => (
              <div key={group.name} role="group" aria-label={group.name} className="break-inside-avoid">
                <h2 className="pt-3 pb-1 text-base">{group.name}</h2>
                <ul className="divide-y divide-line">
                  {group.lines.map(({ line, number }) => (
                    <SheetLine key={number} batchId={batch.id} line={line} number={number} />
                  ))}
                </ul>
              </div>
            ))}
          </section>
          <StepsOnPaper batchId={batch.id} />
          <LotsUsed batchId={batch.id} />
          <Tubs batchId={batch.id} />
        </div>
        <div className="grid gap-3 print:mt-4">
          <Unsettled batch={batch} />
          <Outcome batch={batch} />
          <Churned batch={batch} />
          <Afterwards batch={batch} />
        </div>
      </div>
    </div>
  );
}

/** What has to be looked at before the batch can be judged: late presses, and what makes no mix. */
function Unsettled({ batch }: { batch: Batch }) {
  const units = useUnits();
  const record = useRecord(batch.id);
  return (
    <>
      <LatePresses late={batch.late} settle={(kind, late) => record.mutate({ kind, late })} />
      {batch.fault && (
        <section aria-label="What is wrong" className="panel not-on-paper grid gap-2 border-2 border-hot p-4">
          <p className="font-semibold">{batch.fault}</p>
          {batch.gap_g !== null && (
            <Button className="min-h-14 justify-self-start" onClick={() => record.mutate({ kind: "gap", name: "" })}>
              Take back the {units.mass(Math.abs(batch.gap_g))} that were missing
            </Button>
          )}
        </section>
      )}
    </>
  );
}

function SheetLine({ batchId, line, number }: { batchId: number; line: Schemas["BatchLine"]; number: number }) {
  const units = useUnits();
  const record = useRecord(batchId);
  const id = useId();
  const [typed, setTyped] = useKept(line.as_made_typed ?? "");

  function weigh() {
    if (typed.trim() !== (line.as_made_typed ?? "")) record.mutate({ kind: "weighed", line: number, text: typed, done: true });
  }

  return (
    <li className="py-1">
      <div className="grid grid-cols-[56px_minmax(0,1fr)_4rem_6.5rem] sm:grid-cols-[56px_minmax(0,1fr)_5rem_7rem] items-center gap-x-2 sm:text-lg print:text-base">
        <button
          type="button"
          role="checkbox"
          aria-checked={line.ticked}
          aria-label={`${line.name} is in`}
          onClick={() => record.mutate({ kind: "ticked", line: number, text: "", done: !line.ticked })}
          className="grid size-[56px] place-items-center print:size-8"
        >
          <span
            className={`grid size-8 place-items-center rounded-button border-2 print:size-5 print:border-black print:bg-white ${
              line.ticked ? "border-band-edge bg-band text-ink" : "border-muted"
            }`}
          >
            {line.ticked && <Check size={20} strokeWidth={3} aria-hidden />}
          </span>
        </button>
        <label htmlFor={id} className={`min-w-0 ${line.ticked ? "text-muted print:text-black" : ""}`}>
          {line.name}
        </label>
        <b className="text-right">{units.mass(line.planned_g)}</b>
        <span className="flex items-baseline gap-1">
          <input
            id={id}
            value={typed}
            maxLength={60}
            inputMode="text"
            autoComplete="off"
            placeholder={units.massFigure(line.planned_g)}
            aria-invalid={record.isError ? true : undefined}
            aria-describedby={record.isError ? `${id}-error` : undefined}
            onChange={(event) => setTyped(event.target.value)}
            onBlur={weigh}
            onKeyDown={(event) => event.key === "Enter" && weigh()}
            className="min-h-[56px] w-full min-w-0 rounded-button border border-line bg-panel px-2 text-right font-semibold placeholder:font-normal placeholder:text-muted print:min-h-8 print:rounded-none print:border-0 print:border-b print:placeholder:text-transparent"
          />
          <span className="text-sm text-muted">{/[a-z]/i.test(typed) ? "" : line.unit}</span>
        </span>
      </div>
      {record.isError && (
        <p id={`${id}-error`} role="alert" className="pb-1 pl-[64px] text-hot">
          {record.error.message}
        </p>
      )}
    </li>
  );
}

function Afterwards({ batch }: { batch: Batch }) {
  const { firmness_words: words } = useVocabulary();
  const record = useRecord(batch.id);
  const [note, setNote] = useKept(batch.note);
  const id = useId();
  return (
    <section aria-label="Afterwards" className="panel grid break-inside-avoid gap-3 p-4">
      <fieldset>
        <legend className="font-name font-bold">How did it scoop from your freezer?</legend>
        <div className="mt-2 flex flex-wrap gap-1.5">
          {words.map((word) => (
            <button
              key={word}
              type="button"
              aria-pressed={batch.tasted === word}
              onClick={() => record.mutate({ kind: "tasted", text: batch.tasted === word ? "" : word, done: true })}
              className={`min-h-[56px] rounded-button border px-3.5 print:min-h-0 print:px-2 print:py-0.5 ${
                batch.tasted === word ? "border-ink bg-ink font-bold text-panel print:border-2 print:bg-white print:text-black" : "border-line hover:border-muted"
              }`}
            >
              {word}
            </button>
          ))}
        </div>
      </fieldset>
      <div className="grid gap-1">
        <label htmlFor={id} className="font-name font-bold">
          Note
        </label>
        <textarea
          id={id}
          rows={3}
          maxLength={4000}
          value={note}
          placeholder="What was different, what it was like, what to change next time"
          onChange={(event) => setNote(event.target.value)}
          onBlur={() => note !== batch.note && record.mutate({ kind: "note", text: note, done: true })}
          className="rounded-button border border-line bg-panel px-3 py-2 placeholder:text-muted print:min-h-24 print:placeholder:text-transparent"
        />
      </div>
      {record.isError && (
        <p role="alert" className="text-hot">
          {record.error.message}
        </p>
      )}
    </section>
  );
}
