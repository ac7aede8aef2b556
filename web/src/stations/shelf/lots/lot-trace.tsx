import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import type { Schemas } from "../../../shared/api/client";
import { lotTraceQuery } from "../../../shared/api/queries";
import { useUnits } from "../../../shared/format/units";
import { Button } from "../../../ui/button";
import { Waiting } from "../../../ui/waiting";

/** Which batches and tubs hold some of a lot, through preparations and bases, and who got them. */
export function LotTrace({ lot }: { lot: Schemas["LotDetail"] }) {
  const [open, setOpen] = useState(false);
  const trace = useQuery({ ...lotTraceQuery(lot.id), enabled: open });
  if (!open)
    return (
      <Button className="justify-self-start" onClick={() => setOpen(true)}>
        Where did it go?
      </Button>
    );
  return <Waiting query={trace}>{(found) => <Trace found={found} />}</Waiting>;
}

function Trace({ found }: { found: Schemas["LotTrace"] }) {
  const units = useUnits();
  const { lots, batches, tubs, balance } = found;
  return (
    <section aria-labelledby="lot-trace" className="grid gap-1">
      <h3 id="lot-trace" className="font-semibold">
        Where it went
      </h3>
      {batches.length + lots.length === 0 && <p className="text-muted">Into no batch yet.</p>}
      {lots.map((lot) => (
        <p key={lot.id}>
          Into {lot.name}
          {lot.code && `, lot ${lot.code}`}, of {units.day(lot.came_on)}
        </p>
      ))}
      {batches.map((batch) => (
        <p key={batch.id}>
          <Link className="underline" to={`/batches/${batch.id}`}>
            Batch {batch.number}, {batch.mix_name}
          </Link>
          <span className="text-muted"> {units.day(batch.begun_at)}</span>
        </p>
      ))}
      {tubs.length > 0 && (
        <ul className="grid gap-0.5">
          {tubs.map((tub) => (
            <li key={tub.id}>
              <b>{tub.code}</b> {tub.mix_name}: {tub.to ? `sold to ${tub.to}` : [tub.state, tub.place && `in ${tub.place}`].filter(Boolean).join(", ")}
            </li>
          ))}
        </ul>
      )}
      <BalanceLine balance={balance} />
    </section>
  );
}

/** Whether what came in and what is accounted for agree. */
function BalanceLine({ balance }: { balance: Schemas["BalanceOut"] }) {
  const units = useUnits();
  const gap = units.mass(Math.abs(balance.gap_g));
  const said = balance.gap_g > 0 ? `${gap} is not accounted for` : `${gap} more is accounted for than came in`;
  return (
    <p className={balance.agrees ? "text-muted" : "border-l-3 border-hot pl-2"}>
      {units.mass(balance.in_g)} in, {units.mass(balance.out_g)} accounted for{balance.agrees ? ": the masses agree." : `: ${said}.`}
    </p>
  );
}
