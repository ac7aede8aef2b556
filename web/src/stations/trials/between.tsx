import type { Schemas } from "../../shared/api/client";

/** From one variant to the next: what people tell, in words, and how many of them. */
export function Between({ between }: { between: Schemas["BetweenOut"][] }) {
  return (
    <section aria-label="Can people tell?" className="mt-4">
      <h2 className="text-base">Can people tell?</h2>
      <ul className="mt-1 flex flex-wrap gap-x-8 gap-y-2">
        {between.map(({ a, b, felt }) => (
          <li key={a + b}>
            <b>
              {a} to {b}
            </b>
            <ul className="text-sm">
              {felt.length === 0 && <li className="text-muted">nobody</li>}
              {felt.slice(0, 3).map((one) => (
                <li key={one.figure}>
                  {one.word}: <b>{one.told_by}</b>
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ul>
    </section>
  );
}
