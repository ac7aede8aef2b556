import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import { mixCardsQuery } from "../../shared/api/queries";
import { useUnits } from "../../shared/format/units";
import { Waiting } from "../../ui/waiting";

const COLUMNS = ["firmness", "sweetness", "flavour", "iciness"];

/** All cards of a mix over time, batch by batch, and the troubles that come again. */
export function OverBatches({ mix }: { mix: number }) {
  const units = useUnits();
  const cards = useQuery(mixCardsQuery(mix));
  return (
    <Waiting query={cards}>
      {(found) => (
        <section aria-label="All batches of this mix" className="panel overflow-x-auto p-4">
          <h2 className="text-lg">All batches of this mix</h2>
          {found.again.length > 0 && <p>Comes again: {found.again.join("; ")}.</p>}
          <table className="mt-2 w-full text-left text-sm">
            <thead className="text-muted">
              <tr>
                <th scope="col" className="font-normal">Batch</th>
                <th scope="col" className="font-normal">Liked</th>
                {COLUMNS.map((key) => (
                  <th key={key} scope="col" className="font-normal capitalize">
                    {key === "iciness" ? "ice" : key}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {found.batches.map((batch) => (
                <tr key={batch.batch}>
                  <th scope="row" className="font-normal">
                    <Link className="inline-flex min-h-[24px] items-center underline" to={`/taste/${batch.batch}`}>
                      {batch.number}, {units.day(batch.begun_at)}
                    </Link>
                  </th>
                  <td>{batch.liking === null ? "" : units.number(batch.liking, 1)}</td>
                  {COLUMNS.map((key) => (
                    <td key={key}>{batch.marks[key] === undefined ? "" : units.number(batch.marks[key], 1)}</td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
    </Waiting>
  );
}
