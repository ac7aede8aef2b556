import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, ifMatch, type Schemas } from "../../shared/api/client";
import { correctionsQuery, ingredientQuery, shelfChanged } from "../../shared/api/queries";
import { Button } from "../../ui/button";
import { SheetDialog } from "../../ui/sheet-dialog";
import { Waiting } from "../../ui/waiting";

type CorrectionProps = { ingredient: Schemas["IngredientDetail"]; className?: string; done?: () => void };

/** What the shelf that ships says otherwise of an ingredient that somebody changed here, to be taken or not. */
export function Correction({ ingredient, className = "", done }: CorrectionProps) {
  const client = useQueryClient();
  const settle = useMutation({
    mutationFn: (take: boolean) =>
      answer(api.PUT("/ingredients/{slug}/correction", { params: { path: { slug: ingredient.slug } }, body: { take }, ...ifMatch(ingredient.version) })),
    onSuccess: async () => {
      await shelfChanged(client);
      done?.();
    },
  });
  return (
    <section aria-label="What the shelf says" className={`grid gap-2 border-l-3 border-hot pl-3 ${className}`}>
      {ingredient.offered && (
        <p>
          <b>The shelf was corrected, and somebody had changed this row here.</b> Until you decide, its allergens are those of both.
        </p>
      )}
      <table className="w-full">
        <thead>
          <tr className="text-left text-sm text-muted">
            <th scope="col" className="w-40 font-normal">
              <span className="sr-only">What</span>
            </th>
            <th scope="col" className="font-normal">
              here
            </th>
            <th scope="col" className="font-normal">
              the shelf now says
            </th>
          </tr>
        </thead>
        <tbody>
          {ingredient.shelf_says.map((difference) => (
            <tr key={difference.what} className="border-t border-line align-top">
              <th scope="row" className="py-1 pr-3 text-left font-normal text-muted">
                {difference.what}
              </th>
              <td className="py-1 pr-3">{difference.here}</td>
              <td className="py-1">{difference.shelf}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {settle.error && (
        <p role="alert" className="text-hot">
          {settle.error.message}
        </p>
      )}
      <div className="flex gap-2">
        <Button kind="dark" disabled={settle.isPending} onClick={() => settle.mutate(true)}>
          Take what the shelf says
        </Button>
        {ingredient.offered && (
          <Button disabled={settle.isPending} onClick={() => settle.mutate(false)}>
            Keep it as it is here
          </Button>
        )}
      </div>
    </section>
  );
}

/** The corrections of the shelf that wait for a decision; nothing where there are none. */
export function Corrections() {
  const corrections = useQuery(correctionsQuery);
  const [opened, setOpened] = useState<Schemas["OfferOut"] | null>(null);
  if (!corrections.data || corrections.data.length === 0) return null;
  return (
    <section aria-labelledby="corrections" className="panel px-4 py-3">
      <h2 id="corrections">The shelf was corrected</h2>
      <p className="text-muted">You had changed these here. Until you decide, the allergens of both count.</p>
      <ul className="mt-1 flex flex-wrap gap-x-6 gap-y-1">
        {corrections.data.map((offer) => (
          <li key={offer.slug}>
            <button type="button" className="font-semibold underline" onClick={() => setOpened(offer)}>
              {offer.name}
            </button>{" "}
            <span className="text-muted">{offer.differences.map(({ what }) => what).join(", ")}</span>
          </li>
        ))}
      </ul>
      <SheetDialog open={opened !== null} onOpenChange={(open) => !open && setOpened(null)} title={opened?.name ?? ""} wide>
        {opened && <Opened slug={opened.slug} done={() => setOpened(null)} />}
      </SheetDialog>
    </section>
  );
}

function Opened({ slug, done }: { slug: string; done: () => void }) {
  const ingredient = useQuery(ingredientQuery(slug));
  return <Waiting query={ingredient}>{(known) => <Correction ingredient={known} done={done} />}</Waiting>;
}
