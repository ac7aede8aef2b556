import { useInfiniteQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import { batchesQuery } from "../../shared/api/queries";

import { Button } from "../../ui/button";
import { StationHead } from "../../ui/frame";
import { Waiting } from "../../ui/waiting";
import { useUnits } from "../../shared/format/units";

/** What was made, newest first. */
export function Batches() {
  const units = useUnits();
  const batches = useInfiniteQuery({ ...batchesQuery, refetchOnMount: "always" });
  return (
    <>
      <StationHead title="Batches" />
      <Waiting query={batches}>
        {({ pages }) =>
          pages[0]?.total === 0 ? (
            <p className="panel mx-4 max-w-xl p-6">
              No batch yet. Open a mix on the <Link to="/bench" className="underline">Bench</Link> and press “Make it”.
            </p>
          ) : (
            <div className="grid gap-3 px-4 pb-6">
            <ul className="grid gap-3">
              {pages.flatMap((page) => page.items).map((batch) => (
                <li key={batch.id} className="panel relative grid gap-x-6 gap-y-1 p-4 hover:border-muted md:grid-cols-[9rem_1fr_14rem]">
                  <p className="text-muted">
                    <b className="text-ink">Batch {batch.number}</b>
                    <br />
                    {units.day(batch.begun_at)}
                  </p>
                  <div>
                    <h2 className="text-lg">
                      <Link to={`/batches/${batch.id}`} className="inline-block min-h-[24px] after:absolute after:inset-0">
                        {batch.mix_name}
                      </Link>
                    </h2>
                    {batch.fault ? (
                      <p className="font-semibold text-hot">{batch.fault}</p>
                    ) : (
                      <p>
                        <span className="text-muted">As made: </span>
                        {batch.verdict}
                      </p>
                    )}
                    {batch.note && <p className="text-muted">“{batch.note}”</p>}
                  </div>
                  <p className="md:text-right">
                    {batch.tasted ? (
                      <>
                        <span className="text-muted">Tasted: </span>
                        <b>{batch.tasted}</b>
                      </>
                    ) : (
                      <span className="text-muted">
                        {batch.ticked} of {batch.lines} lines in
                      </span>
                    )}
                  </p>
                </li>
              ))}
            </ul>
            {batches.hasNextPage && (
              <Button className="justify-self-center" disabled={batches.isFetchingNextPage} onClick={() => void batches.fetchNextPage()}>
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
