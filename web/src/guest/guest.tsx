import { useCallback, useEffect, useState } from "react";

import { AnswerForm, type Said } from "../shared/answering";
import { BeforeTheFirstCup } from "../shared/before-the-first-cup";
import { fetchPage, keep, Over, type Page, send, waiting } from "./sitting";

const AGAIN_MS = 5000;

/** A guest’s page: allergens first, then cup by cup. What is said without a connection is sent later. */
export function Guest({ secret }: { secret: string }) {
  const [page, setPage] = useState<Page | null>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const [waits, setWaits] = useState(() => waiting(secret).length);
  const [refused, setRefused] = useState<string[]>([]);
  const flush = useCallback(async () => {
    try {
      const said = await send(secret);
      if (said.length > 0) setRefused(said);
    } catch (error) {
      if (error instanceof Over) setRefused([error.message]);
    }
    setWaits(waiting(secret).length);
  }, [secret]);
  useEffect(() => {
    fetchPage(secret).then(setPage, (error: Error) => setWrong(error instanceof Over ? error.message : "There is no connection to the kitchen. Try again in its network."));
    const timer = window.setInterval(() => void flush(), AGAIN_MS);
    return () => window.clearInterval(timer);
  }, [secret, flush]);

  function say(said: Said) {
    keep(secret, said);
    setWaits(waiting(secret).length);
    void flush();
  }

  return (
    <main className="mx-auto grid max-w-xl gap-5 p-4 text-lg">
      {wrong && (
        <p role="alert" className="rounded-panel border border-line bg-panel p-5">
          {wrong}
        </p>
      )}
      {!page && !wrong && <p role="status">One moment…</p>}
      {page && <Sitting page={page} said={waiting(secret)} onSaid={say} />}
      {waits > 0 && <p role="status">{waits === 1 ? "1 answer waits" : `${waits} answers wait`} on this phone and is sent as soon as there is a connection.</p>}
      {refused.map((sentence) => (
        <p key={sentence} role="alert" className="font-semibold text-hot">
          {sentence}
        </p>
      ))}
    </main>
  );
}

function Sitting({ page, said, onSaid }: { page: Page; said: Said[]; onSaid: (said: Said) => void }) {
  const [fine, setFine] = useState(false);
  const [done, setDone] = useState<number[]>(() => said.map(({ serving }) => serving));
  const next = page.servings.find(({ number }) => !done.includes(number));
  if (!fine) return <AllergensFirst page={page} onFine={() => setFine(true)} />;
  return (
    <section className="grid gap-3 rounded-panel border border-line bg-panel p-5">
      <h1 className="text-2xl font-bold">{page.taster}</h1>
      {next ? (
        <>
          <p className="text-base text-muted">Water and two minutes between cups; no talking.</p>
          <AnswerForm
            key={next.number}
            asked={{ kind: page.kind, question: page.question, number: next.number, taster: page.taster, cups: next.cups, marks: page.marks }}
            onSaid={(answer) => {
              onSaid(answer);
              setDone([...done, answer.serving]);
            }}
          />
        </>
      ) : (
        <p>That was all. Thank you!</p>
      )}
    </section>
  );
}

function AllergensFirst({ page, onFine }: { page: Page; onFine: () => void }) {
  return (
    <section className="grid gap-3 rounded-panel border border-line bg-panel p-5">
      <p className="text-muted">{page.kitchen}</p>
      <h1 className="text-2xl font-bold">Before the first cup</h1>
      <BeforeTheFirstCup cups={page} onFine={onFine} />
    </section>
  );
}
