import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { flushSync } from "react-dom";
import { Link, useParams } from "react-router";

import { answer, api, type Schemas } from "../../shared/api/client";
import { trialQuery } from "../../shared/api/queries";
import { Button } from "../../ui/button";
import { Waiting } from "../../ui/waiting";
import { Between } from "./between";
import { NewTestDialog } from "./new-test";
import { OnPaper } from "./on-paper";
import { SmallTubs } from "./small-tubs";
import { Split } from "./split";
import { TestPanel } from "./test-panel";
import { WhatNext } from "./what-next";

type Trial = Schemas["TrialOut"];

/** A trial: what alone differs, how it is made from one base, who tasted what, and what comes of it. */
export function TrialPage() {
  const id = Number(useParams().trialId);
  const trial = useQuery(trialQuery(id));
  return <Waiting query={trial}>{(found) => <Found trial={found} />}</Waiting>;
}

function Found({ trial }: { trial: Trial }) {
  const [asking, setAsking] = useState(false);
  const [paper, setPaper] = useState<"cards" | "order">("order");
  function print(what: typeof paper) {
    flushSync(() => setPaper(what));
    window.print();
  }
  return (
    <div className="px-4 pt-3 pb-8">
      <header className="not-on-paper flex flex-wrap items-center gap-x-3 gap-y-2 pb-3">
        <Link to="/trials" className="inline-flex min-h-[24px] items-center text-sm text-muted underline">
          Trials
        </Link>
        <h1 className="text-2xl">{trial.name}</h1>
        <span className="mr-auto text-muted">{trial.mix_name && `a ladder on ${trial.mix_name}`}</span>
        <Button onClick={() => print("cards")}>Glass cards</Button>
        <Button onClick={() => print("order")}>Print order</Button>
        <MakeThem trial={trial} />
      </header>
      <div className="not-on-paper grid grid-cols-[minmax(0,1fr)] items-start gap-3 xl:grid-cols-[minmax(0,1fr)_19rem]">
        <section aria-label="Variants" className="panel p-4">
          {trial.changes.map((change) => (
            <h2 key={change} className="text-lg">
              {change}
            </h2>
          ))}
          <p className="mb-3 text-muted">{trial.held.join(" ")}</p>
          <SmallTubs trial={trial} />
          <Between between={trial.between} />
        </section>
        <div className="grid gap-3">
          <Split split={trial.split} count={trial.variants.length} />
          <Serve trial={trial} />
        </div>
      </div>
      <div className="not-on-paper mt-3 grid grid-cols-[minmax(0,1fr)] items-start gap-3 md:grid-cols-2 xl:grid-cols-3">
        {trial.tests.map((test) => (
          <TestPanel key={test.id} test={test} trial={trial.id ?? 0} />
        ))}
        <section aria-label="Another test" className="panel grid content-start gap-3 p-4">
          <h2 className="text-lg">{trial.tests.length === 0 ? "Taste it blind" : "Another test"}</h2>
          {trial.proposal && <p>{trial.proposal.said}</p>}
          <Button kind={trial.tests.length === 0 ? "dark" : "plain"} className="justify-self-start" onClick={() => setAsking(true)}>
            Begin a test
          </Button>
        </section>
        <WhatNext trial={trial} />
      </div>
      {asking && <NewTestDialog trial={trial} onClose={() => setAsking(false)} />}
      <OnPaper trial={trial} what={paper} />
    </div>
  );
}

function Serve({ trial }: { trial: Trial }) {
  const all = trial.serve_c === null ? "each at its own scooping temperature: taste, with firmness taken out" : `all at ${trial.serve_c} °C: the mix as it is`.replace("-", "−");
  return (
    <section aria-label="Serve" className="panel p-4">
      <h2 className="text-lg">Serve</h2>
      <p className="text-sm">{all}; spoons of 20 to 30 g, water and two minutes between, no talking.</p>
    </section>
  );
}

const COUNTS: Record<number, string> = { 2: "two", 3: "three", 4: "four", 5: "five", 6: "six" };

/** Gives each variant a mix of its own, and then leads to making and planning it. */
function MakeThem({ trial }: { trial: Trial }) {
  const client = useQueryClient();
  const made = trial.variants.every(({ mix }) => mix !== null);
  const make = useMutation({
    mutationFn: () => answer(api.POST("/trials/{trial_id}/mixes", { params: { path: { trial_id: trial.id ?? 0 } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["trials", trial.id] }),
  });
  if (!made) {
    return (
      <Button kind="hot" disabled={make.isPending} onClick={() => make.mutate()}>
        Make the {COUNTS[trial.variants.length]}
      </Button>
    );
  }
  return (
    <span className="flex flex-wrap items-center gap-x-3">
      <span className="text-muted">On the Bench, to make or plan:</span>
      {trial.variants.map(({ key, mix }) => (
        <Link key={key} to={`/bench/${mix}`} className="inline-flex min-h-[24px] min-w-[24px] items-center font-bold underline" aria-label={`${key} on the Bench`}>
          {key}
        </Link>
      ))}
    </span>
  );
}
