import { useInfiniteQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import { trialsQuery } from "../../shared/api/queries";
import { useUnits } from "../../shared/format/units";
import { Button, buttonClass } from "../../ui/button";
import { StationHead } from "../../ui/frame";
import { Waiting } from "../../ui/waiting";

/** The kitchen's trials, newest first. */
export function Trials() {
  const units = useUnits();
  const trials = useInfiniteQuery({ ...trialsQuery, refetchOnMount: "always" });
  return (
    <>
      <StationHead title="Trials">
        <Link to="/trials/new" className={buttonClass("hot")}>
          New trial
        </Link>
      </StationHead>
      <Waiting query={trials}>
        {({ pages }) =>
          pages[0]?.total === 0 ? (
            <p className="panel mx-4 max-w-xl p-6">No trial yet. A trial is one mix in two to six rungs, or mixes side by side: made from one base, tasted blind, and decided.</p>
          ) : (
            <div className="grid gap-3 px-4 pb-6">
              <ul className="grid gap-3">
                {pages.flatMap(({ items }) => items).map((trial) => (
                  <li key={trial.id} className="panel relative flex flex-wrap items-baseline gap-x-4 gap-y-1 p-4 hover:border-muted">
                    <h2 className="text-lg">
                      <Link to={`/trials/${trial.id}`} className="inline-block min-h-[24px] after:absolute after:inset-0">
                        {trial.name}
                      </Link>
                    </h2>
                    <span className="text-muted">
                      {trial.mix_name ? `a ladder on ${trial.mix_name}` : trial.variants.join(" beside ")} · {units.day(trial.begun_at)}
                    </span>
                    <b className="ml-auto">{trial.decided || (trial.open_tests > 0 ? "Being tasted" : trial.tests > 0 ? "Tasted" : "To be made")}</b>
                  </li>
                ))}
              </ul>
              {trials.hasNextPage && (
                <Button className="justify-self-center" disabled={trials.isFetchingNextPage} onClick={() => void trials.fetchNextPage()}>
                  Show more
                </Button>
              )}
            </div>
          )
        }
      </Waiting>
    </>
  );
}
