import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import type { Schemas } from "../../shared/api/client";
import { tastingsQuery } from "../../shared/api/queries";
import { useUnits } from "../../shared/format/units";
import { buttonClass } from "../../ui/button";
import { StationHead } from "../../ui/frame";
import { Waiting } from "../../ui/waiting";
import { ageOf } from "./age";

const DUE: Record<string, string> = { hour: "An hour old: taste it now", day: "A day old: taste it now", week: "A week old: taste it again" };

/** Batches to taste: those of which a card is due first. */
export function Tastings() {
  const tastings = useQuery({ ...tastingsQuery, refetchOnMount: "always" });
  return (
    <>
      <StationHead title="Taste">
        <Link to="/taste/doses" className={buttonClass("plain")}>
          Flavour and colour
        </Link>
        <Link to="/taste/learnt" className={buttonClass("plain")}>
          What Jalebi has learnt here
        </Link>
      </StationHead>
      <Waiting query={tastings}>{({ items }) => <ToTaste items={items} />}</Waiting>
    </>
  );
}

function ToTaste({ items }: { items: Schemas["ToTaste"][] }) {
  const units = useUnits();
  if (items.length === 0) {
    return (
      <p className="panel mx-4 max-w-xl p-6">
        Nothing to taste yet. Make a mix from the <Link to="/bench" className="underline">Bench</Link>; it is asked for after an hour, a day and a week.
      </p>
    );
  }
  return (
    <ul className="grid gap-3 px-4 pb-6">
      {items.map((one) => (
        <li key={one.batch} className="panel relative flex flex-wrap items-baseline gap-x-4 gap-y-1 p-4 hover:border-muted">
          <h2 className="text-lg">
            <Link to={`/taste/${one.batch}`} className="inline-block min-h-[24px] after:absolute after:inset-0">
              {one.mix_name}, batch {one.number}
            </Link>
          </h2>
          <span className="text-muted">
            {ageOf(one.age_h)} old · {one.cards === 1 ? "1 card" : `${one.cards} cards`}
            {one.liking !== null && ` · liked ${units.number(one.liking, 1)} of 9`}
          </span>
          {one.due && <b className="ml-auto text-hot">{DUE[one.due]}</b>}
        </li>
      ))}
    </ul>
  );
}
