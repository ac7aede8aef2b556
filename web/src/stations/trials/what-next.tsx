import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";

import { answer, api, type Schemas } from "../../shared/api/client";
import { Button } from "../../ui/button";

/** The winner into the mix, or half way between two neighbours; what was there is kept as a revision. */
export function WhatNext({ trial }: { trial: Schemas["TrialOut"] }) {
  const client = useQueryClient();
  const decide = useMutation({
    mutationFn: (keys: string[]) => answer(api.POST("/trials/{trial_id}/decision", { params: { path: { trial_id: trial.id ?? 0 } }, body: { keys } })),
    onSuccess: () => client.invalidateQueries(),
  });
  const closed = trial.tests.filter(({ closed_at }) => closed_at !== null);
  if (trial.mix === null || closed.length === 0) return null;
  const keys = trial.variants.map(({ key }) => key);
  return (
    <section aria-label="What next" className="panel grid content-start gap-3 p-4">
      <h2 className="text-lg">What next</h2>
      {trial.decided ? (
        <p>
          <b>{trial.decided}</b>{" "}
          <Link to={`/bench/${trial.mix}`} className="underline">
            {trial.mix_name} on the Bench
          </Link>
        </p>
      ) : (
        <p>Take one into {trial.mix_name}, or go between two. What is there now is kept as a revision.</p>
      )}
      <div className="flex flex-wrap gap-2">
        {keys.map((key) => (
          <Button key={key} kind="dark" disabled={decide.isPending} onClick={() => decide.mutate([key])}>
            Take {key}
          </Button>
        ))}
      </div>
      <div className="flex flex-wrap gap-2">
        {keys.slice(1).map((key, at) => (
          <Button key={key} disabled={decide.isPending} onClick={() => decide.mutate([keys[at] ?? "A", key])}>
            Between {keys[at]} and {key}
          </Button>
        ))}
      </div>
      {decide.error && (
        <p role="alert" className="text-hot">
          {decide.error.message}
        </p>
      )}
    </section>
  );
}
