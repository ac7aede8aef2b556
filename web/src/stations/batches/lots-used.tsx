import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, once, type Schemas } from "../../shared/api/client";
import { lotsOfBatchQuery } from "../../shared/api/queries";
import { useUnits } from "../../shared/format/units";
import { Button } from "../../ui/button";
import { FaultOfAll, inputClass } from "../../ui/field";
import { Waiting } from "../../ui/waiting";

type Line = Schemas["LotsOfLine"];

/** Which lots went in: what expires first is filled in, another lot or a split is typed over it. */
export function LotsUsed({ batchId }: { batchId: number }) {
  const lots = useQuery(lotsOfBatchQuery(batchId));
  return (
    <section aria-labelledby="lots-used" className="panel not-on-paper grid gap-2 p-4">
      <h2 id="lots-used" className="text-base">
        Which lots went in?
      </h2>
      <Waiting query={lots}>{({ lines }) => <Lots key={JSON.stringify(lines)} batchId={batchId} lines={lines} />}</Waiting>
    </section>
  );
}

function Lots({ batchId, lines }: { batchId: number; lines: Line[] }) {
  const client = useQueryClient();
  const units = useUnits();
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [key] = useState(() => crypto.randomUUID());
  const fieldOf = (line: Line, lot: number) => `${line.line} ${lot}`;
  const gramsOf = (line: Line, share: Schemas["SuggestedShare"]) => {
    const own = typed[fieldOf(line, share.lot)];
    return own === undefined ? share.grams : (units.readMass(own) ?? 0);
  };
  const taken = lines
    .map((line) => ({ line: line.line, shares: line.suggestion.shares.map((share) => ({ lot: share.lot, grams: gramsOf(line, share) })).filter(({ grams }) => grams > 0) }))
    .filter(({ shares }) => shares.length > 0);
  const take = useMutation({
    mutationFn: () => answer(api.POST("/batches/{batch_id}/lots", { params: { path: { batch_id: batchId } }, body: { lines: taken }, ...once(key) })),
    onSuccess: async (now) => {
      client.setQueryData(lotsOfBatchQuery(batchId).queryKey, now);
      await client.invalidateQueries({ queryKey: ["lots"] });
    },
  });
  const open = lines.filter((line) => line.gap_g > 0 && line.suggestion.shares.length > 0);
  const unknown = lines.filter((line) => line.gap_g > 0 && line.suggestion.shares.length === 0);
  return (
    <>
      <Noted lines={lines} />
      {open.map((line) => (
        <fieldset key={line.line} className="border-t border-line pt-1">
          <legend className="sr-only">{line.name}</legend>
          <p>
            {line.name} <span className="text-muted">{units.mass(line.gap_g)}</span>
          </p>
          {line.suggestion.shares.map((share) => (
            <label key={share.lot} className="grid grid-cols-[5.5rem_1fr] items-center gap-2 py-0.5">
              <input
                className={`${inputClass} text-right`}
                inputMode="decimal"
                maxLength={9}
                aria-label={`${line.name} from ${share.code || `the lot of ${units.mass(share.on_hand_g)}`}, ${units.massUnit}`}
                value={typed[fieldOf(line, share.lot)] ?? (share.grams > 0 ? units.typedMass(share.grams, 1) : "")}
                onChange={(event) => setTyped({ ...typed, [fieldOf(line, share.lot)]: event.target.value })}
              />
              <span className="text-sm text-muted">{shareSaid(share, units)}</span>
            </label>
          ))}
        </fieldset>
      ))}
      {unknown.length > 0 && <p className="text-sm text-muted">No lot is noted of {unknown.map((line) => line.name).join(", ")}.</p>}
      <FaultOfAll error={take.error} />
      {open.length > 0 && (
        <Button kind="dark" className="justify-self-start" disabled={taken.length === 0 || take.isPending} onClick={() => take.mutate()}>
          These went in
        </Button>
      )}
    </>
  );
}

function shareSaid(share: Schemas["SuggestedShare"], units: ReturnType<typeof useUnits>): string {
  const until = share.good_until && `until ${units.day(share.good_until)}`;
  return [share.code ? `lot ${share.code}` : "a lot without a code", `${units.mass(share.on_hand_g)} there`, share.opened && "open", until, share.ask && "past its day: look first"].filter(Boolean).join(", ");
}

function Noted({ lines }: { lines: Line[] }) {
  const units = useUnits();
  const used = lines.filter((line) => line.used.length > 0);
  if (used.length === 0) return null;
  return (
    <ul className="grid gap-0.5">
      {used.map((line) => (
        <li key={line.line}>
          {line.name}: {line.used.map((lot) => `${units.mass(lot.grams)} of ${lot.code ? `lot ${lot.code}` : lot.name}`).join(", ")}
        </li>
      ))}
    </ul>
  );
}
