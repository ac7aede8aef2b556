import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, type Schemas } from "../../shared/api/client";
import { readNumber } from "../../shared/format/numbers";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { Select } from "../../ui/select";

/** Why it is as it is: the symptom that the cards say, or another; causes with this batch's own evidence, and what is asked first. */
export function DiagnosisPanel({ taste }: { taste: Schemas["TasteOut"] }) {
  const tasted = taste.symptoms.filter((one) => one.tasted);
  const [picked, setPicked] = useState("");
  const [known, setKnown] = useState<Record<string, number>>({});
  const symptom = picked || (tasted[0]?.key ?? "");
  const found = useQuery({
    queryKey: ["tastings", taste.batch, "diagnosis", symptom, known, taste.cards.length],
    queryFn: () => answer(api.POST("/batches/{batch_id}/diagnosis", { params: { path: { batch_id: taste.batch } }, body: { symptoms: [symptom], known } })),
    enabled: symptom !== "",
    placeholderData: keepPreviousData,
    retry: false,
  });
  return (
    <section aria-label="Why is it so?" className="panel grid content-start gap-3 p-4">
      <h2 className="text-lg">{found.data && symptom ? found.data.said : "Why is it so?"}</h2>
      <Select
        label="What is wrong"
        value={symptom}
        placeholder="nothing, or choose"
        options={taste.symptoms.map((one) => ({ key: one.key, name: one.tasted ? `${one.said} (on the cards)` : one.said }))}
        onChange={(key) => {
          setPicked(key);
          setKnown({});
        }}
      />
      {found.error && (
        <p role="alert" className="text-hot">
          {found.error.message}
        </p>
      )}
      {found.data && symptom && <Causes found={found.data} known={known} onKnown={setKnown} />}
    </section>
  );
}

function Causes({ found, known, onKnown }: { found: Schemas["DiagnosisOut"]; known: Record<string, number>; onKnown: (known: Record<string, number>) => void }) {
  return (
    <>
      <ul className="grid gap-2">
        {found.suspects.map((suspect) => (
          <li key={suspect.key}>
            <div className="grid grid-cols-[1fr_9rem] items-center gap-3">
              <b>
                <span className="inline-block first-letter:uppercase">{suspect.name}</span> <span className="font-normal text-muted">{suspect.likely}</span>
              </b>
              <span className="block h-2.5 rounded-full bg-steel outline outline-line" aria-hidden>
                <span className="block h-full rounded-full bg-ink" style={{ width: `${100 * suspect.share}%` }} />
              </span>
            </div>
            <p className="text-sm text-muted">
              {suspect.evidence.length === 0 && "Nothing noted speaks for or against it."}
              {suspect.evidence.map((one) => `${one.speaks_for ? "for" : "against"}: ${one.said}`).join("; ")}
            </p>
          </li>
        ))}
      </ul>
      {found.ask && found.question && <Ask key={found.ask} of={found.ask} question={found.question} onSaid={(value) => onKnown({ ...known, [found.ask ?? ""]: value })} />}
      {found.again && <p className="text-sm">{found.again}</p>}
      <p>
        <b>{found.test_first ? "First tell them apart: " : "To be sure: "}</b>
        {found.test}
      </p>
      <p>
        <b>{found.test_first ? "If it is that: " : "For the next batch: "}</b>
        {found.change}
      </p>
    </>
  );
}

const YES_OR_NO = ["thaws", "gum_works"];

function Ask({ of, question, onSaid }: { of: string; question: string; onSaid: (value: number) => void }) {
  const [typed, setTyped] = useState("");
  const value = readNumber(typed);
  return (
    <div className="grid gap-2 rounded-panel bg-steel p-3">
      <p className="font-semibold">{question}</p>
      {YES_OR_NO.includes(of) ? (
        <div className="flex gap-2">
          <Button onClick={() => onSaid(0)}>No</Button>
          <Button onClick={() => onSaid(1)}>Yes</Button>
        </div>
      ) : (
        <form
          className="flex items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            if (value !== null) onSaid(value);
          }}
        >
          <div className="w-32">
            <Field label="A number" inputMode="text" value={typed} onChange={(event) => setTyped(event.target.value)} />
          </div>
          <Button type="submit" disabled={value === null}>
            Say it
          </Button>
        </form>
      )}
    </div>
  );
}
