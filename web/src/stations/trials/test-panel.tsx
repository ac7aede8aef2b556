import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { AnswerForm, type Said } from "../../shared/answering";
import { BeforeTheFirstCup } from "../../shared/before-the-first-cup";
import { answer, api, savedFile, type Schemas } from "../../shared/api/client";
import { useUnits } from "../../shared/format/units";
import { Button } from "../../ui/button";
import { SheetDialog } from "../../ui/sheet-dialog";
import { GuestLinks } from "./guest-links";
import { KINDS } from "./kinds";

type Test = Schemas["TestOut"];

/** A test: who has answered, and once it is closed what was found, drawn against luck. */
export function TestPanel({ test, trial }: { test: Test; trial: number }) {
  const client = useQueryClient();
  const [asking, setAsking] = useState(false);
  const [linking, setLinking] = useState(false);
  const refresh = () => client.invalidateQueries({ queryKey: ["trials", trial] });
  const path = { path: { test_id: test.id } };
  const close = useMutation({ mutationFn: () => answer(api.POST("/trial-tests/{test_id}/close", { params: path })), onSuccess: refresh });
  const left = test.servings.filter(({ answered }) => !answered).length;
  return (
    <section aria-label={`${KINDS[test.kind]?.name}: ${test.variants.join(", ")}`} className="panel grid content-start gap-2 p-4">
      <h2 className="text-lg">
        {KINDS[test.kind]?.name}: {test.variants.join(", ")}
      </h2>
      <p className="text-sm text-muted">{test.question}</p>
      {test.warnings.map((warning) => (
        <p key={warning} className="text-sm">
          {warning}
        </p>
      ))}
      {test.closed_at === null ? (
        <>
          <p>
            <b>
              {test.answered} of {test.servings.length}
            </b>{" "}
            answered{test.tastings ? `; ${test.tastings} show a difference that matters` : ""}. What the codes stand for stays unknown until it is closed.
          </p>
          <div className="flex flex-wrap gap-2">
            <Button kind="dark" onClick={() => setAsking(true)} disabled={left === 0}>
              Answer here
            </Button>
            <Button onClick={() => setLinking(true)}>Links for guests</Button>
            <Button onClick={() => close.mutate()} disabled={test.answered === 0}>
              Close and reveal
            </Button>
          </div>
        </>
      ) : (
        <Found test={test} />
      )}
      {close.error && (
        <p role="alert" className="text-hot">
          {close.error.message}
        </p>
      )}
      {asking && <Answering test={test} onClose={() => setAsking(false)} onKept={refresh} />}
      {linking && <GuestLinks test={test} onClose={() => setLinking(false)} onChanged={refresh} />}
    </section>
  );
}

function Answering({ test, onClose, onKept }: { test: Test; onClose: () => void; onKept: () => Promise<void> }) {
  const [fine, setFine] = useState<string[]>([]);
  const next = test.servings.find(({ answered }) => !answered);
  const keep = useMutation({
    mutationFn: (said: Said) => answer(api.POST("/trial-tests/{test_id}/answers", { params: { path: { test_id: test.id } }, body: said })),
    onSuccess: onKept,
  });
  if (!next) return null;
  if (!fine.includes(next.taster)) {
    return (
      <SheetDialog open onOpenChange={(open) => !open && onClose()} title={`${next.taster}, before the first cup`}>
        <div className="grid gap-3">
          <BeforeTheFirstCup cups={test.cups_hold} onFine={() => setFine([...fine, next.taster])} />
        </div>
      </SheetDialog>
    );
  }
  return (
    <SheetDialog open onOpenChange={(open) => !open && onClose()} title={next.taster} explanation={`Serving ${next.number + 1} of ${test.servings.length}. Water and two minutes between cups; no talking.`}>
      <AnswerForm
        key={next.number}
        waiting={keep.isPending}
        asked={{
          kind: test.kind,
          question: test.question,
          number: next.number,
          taster: next.taster,
          cups: next.cups.map((code) => ({ code, open: code === "R" })),
          marks: test.kind === "liking" ? ["firmness", "sweetness", "flavour"] : [],
        }}
        onSaid={(said) => keep.mutate(said)}
      />
      {keep.error && (
        <p role="alert" className="mt-2 text-hot">
          {keep.error.message}
        </p>
      )}
    </SheetDialog>
  );
}

type Analysis = {
  n: number;
  verdict: string;
  correct?: number;
  picked?: Record<string, number>;
  rank_sums?: Record<string, number>;
  means?: Record<string, number>;
  strengths?: Record<string, number>;
  penalties?: { variant: string; attribute: string; side: string; n: number; share: number; drop: number | null; hint: boolean }[];
};

const VERDICTS: Record<string, string> = { different: "Different", "too few": "Too few to say", "not shown": "Not shown" };

function Found({ test }: { test: Test }) {
  const found = test.analysis as Analysis | null;
  if (!found) return null;
  return (
    <>
      <p className="font-name text-xl font-bold">{VERDICTS[found.verdict]}</p>
      {found.correct !== undefined && <Dots right={found.correct} of={found.n} luck={found.n * (KINDS[test.kind]?.luck ?? 0.5)} />}
      {found.picked && <Bars values={found.picked} most={found.n} />}
      {found.rank_sums && <Bars values={meanOf(found.rank_sums, found.n)} most={test.variants.length} />}
      {found.means && <Bars values={found.means} most={9} />}
      {found.strengths && <Bars values={shifted(found.strengths)} most={4} />}
      <p>{test.said}</p>
      <Penalties found={found} />
      {test.settle && <p className="text-sm text-muted">{test.settle}</p>}
      <p className="text-sm text-muted">Codes: {Object.entries(test.codes).map(([key, codes]) => `${key} ${codes.join(" and ")}`).join(", ")}</p>
      <p className="flex gap-4 text-sm">
        <button type="button" className="underline" onClick={() => void savedFile(`/trial-tests/${test.id}/results.csv`)}>
          Answers as CSV
        </button>
        <button type="button" className="underline" onClick={() => void savedFile(`/trial-tests/${test.id}/file`)}>
          Trial file
        </button>
      </p>
    </>
  );
}

const meanOf = (sums: Record<string, number>, n: number) => Object.fromEntries(Object.entries(sums).map(([key, sum]) => [key, sum / n]));
const shifted = (strengths: Record<string, number>) => Object.fromEntries(Object.entries(strengths).map(([key, value]) => [key, value + 2]));

/** Who was right, beside how many guessing brings. */
function Dots({ right, of, luck }: { right: number; of: number; luck: number }) {
  const width = 18 * of + 10;
  return (
    <svg viewBox={`0 0 ${width} 40`} width={Math.min(width, 420)} role="img" aria-label={`${right} of ${of} right; guessing brings ${luck.toFixed(1)}`}>
      {Array.from({ length: of }, (_, at) => (
        <circle key={at} cx={12 + 18 * at} cy="12" r="7" fill={at < right ? "var(--ink)" : "none"} stroke="var(--ink)" strokeWidth="1.5" />
      ))}
      <line x1={3 + 18 * luck} x2={3 + 18 * luck} y1="0" y2="24" stroke="var(--hot)" strokeWidth="2" />
      <text x={3 + 18 * luck} y="37" textAnchor="middle" fontSize="11" fill="var(--muted)">
        guessing
      </text>
    </svg>
  );
}

function Bars({ values, most }: { values: Record<string, number>; most: number }) {
  const units = useUnits();
  return (
    <ul className="grid gap-1">
      {Object.entries(values).map(([key, value]) => (
        <li key={key} className="grid grid-cols-[1.5rem_1fr_3rem] items-center gap-2">
          <b>{key}</b>
          <span className="block h-2 rounded-sm bg-steel outline outline-line">
            <span className="block h-full rounded-sm bg-ink" style={{ width: `${Math.max(0, Math.min(100, (100 * value) / most))}%` }} />
          </span>
          <span className="text-right">{units.number(value, Number.isInteger(value) ? 0 : 1)}</span>
        </li>
      ))}
    </ul>
  );
}

/** What too much or too little of something costs in liking. */
function Penalties({ found }: { found: Analysis }) {
  const units = useUnits();
  const told = (found.penalties ?? []).filter(({ drop }) => drop !== null && drop > 0);
  if (told.length === 0) return null;
  return (
    <ul className="text-sm">
      {told.map((one) => (
        <li key={one.variant + one.attribute + one.side}>
          {one.variant}: {one.side} {one.attribute}, said by {one.n}, costs {units.number(one.drop ?? 0, 1)} in liking{one.hint ? " (a hint, so few say it)" : ""}
        </li>
      ))}
    </ul>
  );
}
