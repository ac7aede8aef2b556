import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { answer, api, ifMatch, type Schemas } from "../../../shared/api/client";
import { useKitchen } from "../../../shared/api/kitchen";
import { ingredientQuery, priceEffectsQuery, shelfChanged } from "../../../shared/api/queries";
import { useUnits } from "../../../shared/format/units";
import { Button } from "../../../ui/button";
import { FaultOfAll } from "../../../ui/field";
import { Waiting } from "../../../ui/waiting";

/** What the price that a lot came at does to every mix, and whether it is the price from now on. */
export function PriceMoves({ lot, slug, done }: { lot: Schemas["LotDetail"]; slug: string; done: () => void }) {
  const client = useQueryClient();
  const units = useUnits();
  const { currency } = useKitchen();
  const grams = lot.movements[0]?.grams ?? lot.grams;
  const perKg = (1000 * (lot.price ?? 0)) / grams;
  const known = useQuery(ingredientQuery(slug));
  const effects = useQuery(priceEffectsQuery(slug, perKg));
  const take = useMutation({
    mutationFn: (version: number) =>
      answer(
        api.PATCH("/ingredients/{slug}", {
          params: { path: { slug } },
          body: { price: lot.price, pack_g: grams, supplier: lot.supplier, why: "price of a delivery" },
          ...ifMatch(version),
        }),
      ),
    onSuccess: async () => {
      await shelfChanged(client);
      done();
    },
  });
  const money = (value: number | null) => (value === null ? "not known" : `${units.number(value, 2)} ${currency}`);
  return (
    <Waiting query={effects}>
      {(found) => (
        <div className="grid gap-3">
          <p>
            It came at <b>{money(found.per_kg_then)} a kilo</b>; the shelf says {found.per_kg === null ? "nothing yet" : money(found.per_kg)}.
          </p>
          <MovedMixes effects={found} />
          <FaultOfAll error={take.error} />
          <div className="flex gap-2">
            <Button kind="dark" disabled={!known.data || take.isPending} onClick={() => known.data && take.mutate(known.data.version)}>
              Reckon with it from now on
            </Button>
            <Button onClick={done}>Leave the shelf’s price</Button>
          </div>
        </div>
      )}
    </Waiting>
  );
}

/** Every mix that a price moves, those that it moves most first. */
export function MovedMixes({ effects }: { effects: Schemas["PriceEffects"] }) {
  const { currency } = useKitchen();
  if (effects.mixes.length === 0) return <p className="text-muted">No mix holds it, so it moves nothing.</p>;
  return (
    <table className="w-full">
      <caption className="text-left text-sm text-muted">A litre, in {currency}</caption>
      <tbody>
        {effects.mixes.map((mix) => (
          <tr key={mix.id} className="border-t border-line">
            <th scope="row" className="py-1 text-left font-normal">
              {mix.name}
            </th>
            {mix.per_litre_then === null ? (
              <td colSpan={4} className="text-right text-sm text-muted">
                something else in it has no price
              </td>
            ) : (
              <Change before={mix.per_litre} then={mix.per_litre_then} />
            )}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Change({ before, then }: { before: number | null; then: number }) {
  const units = useUnits();
  const change = before === null ? null : then - before;
  return (
    <>
      <td className="text-right">{before === null ? "no price" : units.number(before, 2)}</td>
      <td className="px-2 text-muted">→</td>
      <td className="text-right">{units.number(then, 2)}</td>
      <td className="w-20 text-right font-semibold">{change !== null && `${change >= 0.005 ? "+" : ""}${units.number(change, 2)}`}</td>
    </>
  );
}
