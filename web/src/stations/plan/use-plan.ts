import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";

import { answer, api, ifMatch, type KitchenPaths, type Schemas } from "../../shared/api/client";
import { useWork } from "../../shared/api/jobs";
import { planQuery } from "../../shared/api/queries";
import { strictContext } from "../../shared/strict-context";

export type Plan = Schemas["PlanOut"];
type Change = Schemas["PlanChange"];
type Mishap = Schemas["Mishap"];
type Happened = Schemas["Happened"];
type Posted = keyof KitchenPaths & `/plans/{plan_id}/${"services" | "remedies" | "mishaps" | "events"}`;

/** A plan on the screen: what it is, what is chosen of it, and all that can be done to it; each looks for a plan again. */
export type PlanWork = {
  plan: Plan;
  /** What is shown: the best so far while one is looked for, else what was found last. */
  shown: Schemas["PlanAnswer"] | null;
  looking: boolean;
  /** Something was asked and is not answered yet: a press that is on its way, or a plan that is looked for. */
  busy: boolean;
  seconds: number;
  error: Error | null;
  look: (anew: boolean) => void;
  stop: () => void;
  typeService: (text: string) => Promise<unknown>;
  change: (change: Change, anew: boolean) => Promise<unknown>;
  help: (change: Record<string, unknown>) => void;
  mishap: (mishap: Mishap) => void;
  takeBack: () => void;
  happened: (happened: Happened) => void;
  chosen: string | null;
  choose: (step: string | null) => void;
};

export const [PlanContext, usePlan] = strictContext<PlanWork>("plan");

export function usePlanWork(plan: Plan): PlanWork {
  const client = useQueryClient();
  const [chosen, choose] = useState<string | null>(null);
  const path = { plan_id: plan.id };
  const kept = useCallback((found: Plan) => client.setQueryData(planQuery(found.id).queryKey, found), [client]);
  const search = useWork(
    {
      ask: (asked: { id: number; anew: boolean }, signal) =>
        answer(api.POST("/plans/{plan_id}/solutions", { params: { path: { plan_id: asked.id } }, body: { anew: asked.anew }, signal })),
      look: (id) => answer(api.GET("/solutions/{job_id}", { params: { path: { job_id: id } } })),
      stop: (id) => answer(api.DELETE("/solutions/{job_id}", { params: { path: { job_id: id } } })),
    },
    () => void client.invalidateQueries({ queryKey: planQuery(plan.id).queryKey }),
  );
  const { mutate } = search;
  const look = useCallback((anew: boolean) => mutate({ id: plan.id, anew }), [mutate, plan.id]);

  function then(found: Plan, anew: boolean) {
    kept(found);
    if (found.services.length > 0 || found.from_file) look(anew);
  }

  const change = useMutation({
    mutationFn: ({ body }: { body: Change; anew: boolean }) => answer(api.PATCH("/plans/{plan_id}", { params: { path }, body, ...ifMatch(plan.version) })),
    onSuccess: (found, { anew }) => then(found, anew),
    onError: () => void client.invalidateQueries({ queryKey: planQuery(plan.id).queryKey }),
  });
  const post = useMutation({
    mutationFn: ({ to, body }: { to: Posted; body: object; anew: boolean }) => answer(api.POST(to, { params: { path }, body: body as never })),
    onSuccess: (found, { anew }) => then(found, anew),
  });
  const back = useMutation({
    mutationFn: () => answer(api.DELETE("/plans/{plan_id}/mishaps", { params: { path } })),
    onSuccess: (found) => then(found, true),
  });
  return {
    plan,
    shown: search.job?.best ?? plan.answer,
    looking: search.isPending,
    busy: search.isPending || change.isPending || post.isPending || back.isPending,
    seconds: search.seconds,
    error: search.error ?? change.error ?? (post.variables?.to.endsWith("/services") ? null : post.error) ?? back.error,
    look,
    stop: search.stop,
    typeService: (text) => post.mutateAsync({ to: "/plans/{plan_id}/services", body: { text }, anew: false }),
    change: (body, anew) => change.mutateAsync({ body, anew }),
    help: (helping) => post.mutate({ to: "/plans/{plan_id}/remedies", body: { change: helping }, anew: false }),
    mishap: (body) => post.mutate({ to: "/plans/{plan_id}/mishaps", body, anew: true }),
    takeBack: () => back.mutate(),
    happened: (body) => post.mutate({ to: "/plans/{plan_id}/events", body, anew: true }),
    chosen,
    choose,
  };
}
