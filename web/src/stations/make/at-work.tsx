import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import type { Schemas } from "../../shared/api/client";
import { atWorkQuery } from "../../shared/api/queries";
import { useUnits } from "../../shared/format/units";
import { StationHead } from "../../ui/frame";
import { Waiting } from "../../ui/waiting";
import { PressesOfOthers } from "./presses-of-others";
import { waitingPresses } from "./presses";

/** The batches that somebody is at: each is one press away. */
export function BatchesAtWork() {
  const batches = useQuery({ ...atWorkQuery, refetchOnMount: "always" });
  return (
    <>
      <StationHead title="Make" />
      <div className="grid gap-3 px-4 pb-6">
        <PressesOfOthers />
        <Waiting query={batches}>{(found) => <AtWork batches={found} />}</Waiting>
      </div>
    </>
  );
}

function AtWork({ batches }: { batches: Schemas["AtWork"][] }) {
  const units = useUnits();
  if (batches.length === 0) {
    return (
      <div className="panel grid max-w-xl gap-3 p-6 text-lg">
        <p>Nothing is being made.</p>
        <p>
          Open a mix on the <Link to="/bench" className="underline">Bench</Link> and press “Make it”, or begin a batch from a <Link to="/plan" className="underline">plan</Link>.
        </p>
      </div>
    );
  }
  return (
    <ul className="grid gap-3 md:grid-cols-2">
      {batches.map((batch) => (
        <li key={batch.id} className="panel relative grid gap-1 p-5 hover:border-muted">
          <h2 className="text-2xl">
            <Link to={`/make/${batch.id}`} className="after:absolute after:inset-0">
              {batch.mix_name}
            </Link>
          </h2>
          <p className="text-muted">
            Batch {batch.number}, {units.day(batch.begun_at)}
            {batch.begun_by ? `, by ${batch.begun_by}` : ""} · {batch.noted} noted
          </p>
          {batch.paused !== null && <p className="font-semibold">{batch.paused ? `Paused until ${batch.paused}` : "Paused"}</p>}
          <Waits batch={batch.id} />
        </li>
      ))}
    </ul>
  );
}

function Waits({ batch }: { batch: number }) {
  const waiting = waitingPresses(batch).length;
  if (waiting === 0) return null;
  return <p className="font-semibold">{waiting === 1 ? "1 press is" : `${waiting} presses are`} still on this device</p>;
}
