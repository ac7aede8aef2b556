import { Link } from "react-router";

import type { Schemas } from "../../shared/api/client";
import { buttonClass } from "../../ui/button";

/** The one change for the next batch, and whether the last one was right. */
export function NextBatch({ taste }: { taste: Schemas["TasteOut"] }) {
  const change = taste.next_change;
  const aim = change?.aim;
  return (
    <section aria-label="The next batch" className="panel grid content-start gap-2 p-4">
      <h2 className="text-lg">The next batch</h2>
      {change ? (
        <>
          <p>
            <b>{change.grams || change.said}</b>
          </p>
          {change.grams && <p className="text-muted">{change.said}</p>}
          {aim && (
            <div className="flex flex-wrap gap-2">
              <Link className={buttonClass("dark")} to={`/bench/${taste.mix}?aim=${encodeURIComponent(JSON.stringify(aim))}`}>
                Lay it on the Bench
              </Link>
              <Link className={buttonClass("plain")} to={`/trials/new?mix=${taste.mix}&aim=${encodeURIComponent(aim.of)}&values=${change.values.join(",")}`}>
                Try both in a trial
              </Link>
            </div>
          )}
        </>
      ) : (
        <p className="text-muted">{taste.cards.length === 0 ? "Cards come first." : taste.symptoms.some(({ tasted }) => tasted) ? "What is wrong is no matter of taste: see why it is so before the mix is changed." : "Nothing was marked far enough from just right to change it."}</p>
      )}
      {taste.last_change && (
        <p>
          <b>Was the last change right?</b> {taste.last_change}
        </p>
      )}
      {taste.since_good && (
        <p className="text-sm">
          Since the good one, <Link className="underline" to={`/taste/${taste.since_good.batch}`}>batch {taste.since_good.number}</Link>: {taste.since_good.said}
        </p>
      )}
    </section>
  );
}
