import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useParams } from "react-router";

import { planQuery } from "../../shared/api/queries";
import { Button } from "../../ui/button";
import { StationHead } from "../../ui/frame";
import { Learnt } from "../../ui/learnt";
import { Waiting } from "../../ui/waiting";
import { Board } from "./board";
import { PlanClock } from "./clock";
import { DaySheet } from "./day-sheet";
import { Helps } from "./helps";
import { Next } from "./next";
import { PlanMenu } from "./plan-menu";
import { Services } from "./services";
import { Thread } from "./thread";
import { type Plan, PlanContext, usePlan, usePlanWork } from "./use-plan";

const LOOK_AT_CLOCK_MS = 15_000;

/** A plan: the verdict first, the board under it, then what is to be ready, what may slip, and what comes next. */
export function PlanPage() {
  const id = Number(useParams().planId);
  const plan = useQuery(planQuery(id));
  return <Waiting query={plan}>{(found) => <Opened key={found.id} plan={found} />}</Waiting>;
}

function Opened({ plan }: { plan: Plan }) {
  const work = usePlanWork(plan);
  const { shown, busy } = work;
  const now = useNow(plan, shown);
  return (
    <PlanContext value={work}>
      <div className="not-on-paper">
        <StationHead title={plan.name}>
          <Link to="/plan" className="inline-block min-h-[24px] text-muted underline">
            All plans
          </Link>
          <PlanMenu />
          {plan.state === "draft" ? (
            <Button kind="hot" disabled={!shown || shown.steps.length === 0} onClick={() => void work.change({ state: "started" }, true).catch(() => undefined)}>
              Start the day
            </Button>
          ) : (
            <b>Started</b>
          )}
        </StationHead>
        <div className="grid gap-3 px-4 pb-6">
          <section className="panel min-w-0 p-4" aria-label="Plan" aria-busy={busy}>
            <Verdict />
            {shown && shown.steps.length > 0 && (
              <div className="mt-3 max-md:hidden">
                <Board answer={shown} now={now} />
              </div>
            )}
          </section>
          <div className="grid gap-3 md:grid-cols-3">
            <Services />
            <Thread />
            <Next now={now} />
          </div>
        </div>
      </div>
      {shown && <DaySheet plan={plan} answer={shown} />}
    </PlanContext>
  );
}

/** What a cook reads first: whether all of it is on time, and how sure that is. */
function Verdict() {
  const { plan, shown, looking, seconds, stop, error, look } = usePlan();
  return (
    <div className="grid gap-2">
      <div className="flex flex-wrap items-baseline gap-x-3 gap-y-1" aria-live="polite">
        {shown ? (
          <p>
            <b className="font-name text-lg">{shown.verdict}</b> <span className="text-muted">{shown.beside}</span> <Learnt marks={plan.learnt} />
          </p>
        ) : (
          <p className="text-muted">{plan.services.length === 0 && !plan.from_file ? "Say what is to be ready, and when: the plan is made back from there." : "No plan yet."}</p>
        )}
        {looking && (
          <span className="ml-auto flex items-center gap-3">
            <span className="text-muted">Looking for a {shown ? "better " : ""}plan… {seconds} s</span>
            <Button onClick={stop}>Stop</Button>
          </span>
        )}
        {!looking && (plan.stale || !shown) && (plan.services.length > 0 || plan.from_file) && (
          <Button className="ml-auto" kind="dark" onClick={() => look(plan.state === "started")}>
            Plan it
          </Button>
        )}
      </div>
      {error && (
        <p role="alert" className="text-hot">
          {error.message}
        </p>
      )}
      {!looking && <Helps />}
    </div>
  );
}

/** The minute of the plan that it is now, looked at again and again. */
function useNow(plan: Plan, shown: ReturnType<typeof usePlanWork>["shown"]): number | null {
  const [, tick] = useState(0);
  useEffect(() => {
    const timer = window.setInterval(() => tick((count) => count + 1), LOOK_AT_CLOCK_MS);
    return () => window.clearInterval(timer);
  }, []);
  return shown ? new PlanClock(shown).now(plan.zone) : null;
}
