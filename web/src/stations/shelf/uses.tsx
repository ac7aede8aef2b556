import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { answer, api, type Schemas } from "../../shared/api/client";
import { shelfChanged, usesQuery } from "../../shared/api/queries";
import { Button } from "../../ui/button";
import { Waiting } from "../../ui/waiting";
import { PickIngredient, type Picked } from "./pick-ingredient";

/** Where an ingredient is used, and what can be done about it: putting it away, or another in its place everywhere. */
export function Uses({ ingredient, done }: { ingredient: Schemas["IngredientDetail"]; done: () => void }) {
  const client = useQueryClient();
  const uses = useQuery(usesQuery(ingredient.slug));
  const [other, setOther] = useState<Picked | null>(null);
  const path = { path: { slug: ingredient.slug } };
  const changed = { onSuccess: async () => { await shelfChanged(client); done(); } };
  const putAway = useMutation({ mutationFn: () => answer(api.DELETE("/ingredients/{slug}", { params: path })), ...changed });
  const merge = useMutation({ mutationFn: (into: string) => answer(api.PUT("/ingredients/{slug}/merged", { params: path, body: { into } })), ...changed });
  const error = putAway.error ?? merge.error;
  return (
    <Waiting query={uses}>
      {(found) => (
        <div className="grid gap-3">
          <Where found={found} />
          <div className="grid gap-2 border-t border-line pt-3">
            <PickIngredient label="Is it the same as another? That one takes its place everywhere." picked={other} pick={setOther} />
            {other && (
              <Button kind="dark" disabled={merge.isPending} onClick={() => merge.mutate(other.slug)}>
                Put {other.name} in its place
              </Button>
            )}
          </div>
          {ingredient.own && <div className="grid gap-1 border-t border-line pt-3">
            <p className="text-muted">Put away, it is no longer found; what holds it keeps it.</p>
            <Button disabled={putAway.isPending} onClick={() => putAway.mutate()}>
              Put it away
            </Button>
          </div>}
          {error && (
            <p role="alert" className="text-hot">
              {error.message}
            </p>
          )}
        </div>
      )}
    </Waiting>
  );
}

function Where({ found }: { found: Schemas["UsesOut"] }) {
  if (found.mixes.length + found.preparations.length === 0) return <p>No mix and no preparation holds it.</p>;
  return (
    <ul className="grid gap-1">
      {found.mixes.map((mix) => (
        <li key={mix.id}>
          <Link to={`/bench/${mix.id}`} className="underline">
            {mix.name}
          </Link>
        </li>
      ))}
      {found.preparations.map((name) => (
        <li key={name}>
          {name} <span className="text-muted">preparation</span>
        </li>
      ))}
    </ul>
  );
}
