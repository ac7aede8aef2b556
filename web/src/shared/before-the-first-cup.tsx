import type { Schemas } from "./api/client";

/** What somebody has to know before the first cup, in one person’s own hands: nothing is tasted before it is said fine. */
export function BeforeTheFirstCup({ cups, onFine }: { cups: Schemas["CupsHold"]; onFine: () => void }) {
  return (
    <>
      <p>
        {cups.allergens.length > 0 ? (
          <>
            The cups hold <b>{cups.allergens.join(", ")}</b>.
          </>
        ) : (
          "No allergens are known to be in the cups."
        )}
        {cups.may_hold.length > 0 && ` They may hold traces of ${cups.may_hold.join(", ")}.`}
        {cups.not_stated.length > 0 && ` Nobody has stated the allergens of ${cups.not_stated.join(", ")}: ask.`}
      </p>
      {cups.cautions.map((caution) => (
        <p key={caution}>{caution}</p>
      ))}
      <p>If something here is not for you, say so to the kitchen and taste nothing.</p>
      <button type="button" className="min-h-[56px] rounded-button bg-hot px-5 text-lg font-semibold text-hot-ink" onClick={onFine}>
        I may eat all of this
      </button>
    </>
  );
}
