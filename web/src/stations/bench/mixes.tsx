import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import type { Schemas } from "../../api/client";
import { mixesQuery, useVocabulary } from "../../api/queries";
import { CompositionBar } from "../../charts/composition-bar";
import { Button, buttonClass } from "../../ui/button";
import { StationHead } from "../../ui/frame";
import { shown } from "../../ui/numbers";
import { Waiting } from "../../ui/waiting";
import { NewMix } from "./new-mix";

/** The kitchen's mixes, each with its verdict. */
export function Mixes() {
  const mixes = useQuery({ ...mixesQuery, refetchOnMount: "always" });
  const [starting, setStarting] = useState(false);
  return (
    <>
      <StationHead title="Mixes">
        <Link to="/bench/paste" className={buttonClass()}>
          Paste a recipe
        </Link>
        <Button kind="hot" onClick={() => setStarting(true)}>
          New mix
        </Button>
      </StationHead>
      <Waiting query={mixes}>
        {(all) =>
          all.length === 0 ? (
            <div className="panel mx-4 grid max-w-xl justify-items-start gap-3 p-6">
              <h2 className="text-xl">Your first mix</h2>
              <p>Say what goes in and how much. You see at once what it will be: how sweet, how rich, and at which temperature it scoops.</p>
              <div className="flex flex-wrap gap-3">
                <Button kind="hot" onClick={() => setStarting(true)}>
                  Start a mix
                </Button>
                <Link to="/bench/paste" className={buttonClass()}>
                  Paste a recipe
                </Link>
              </div>
            </div>
          ) : (
            <ul className="grid gap-3 px-4 pb-6 lg:grid-cols-2">
              {all.map((mix) => (
                <MixCard key={mix.id} mix={mix} />
              ))}
            </ul>
          )
        }
      </Waiting>
      <NewMix open={starting} onClose={() => setStarting(false)} />
    </>
  );
}

function MixCard({ mix }: { mix: Schemas["MixSummary"] }) {
  const { styles } = useVocabulary();
  const style = styles.find((candidate) => candidate.key === mix.style)?.name;
  return (
    <li className="panel relative grid gap-2 p-4 hover:border-muted">
      <div className="flex items-baseline gap-3">
        <h2 className="min-w-0 truncate text-xl">
          <Link to={`/bench/${mix.id}`} className="after:absolute after:inset-0">
            {mix.name}
          </Link>
        </h2>
        <span className="ml-auto shrink-0 text-muted">{[style, `${shown(mix.mass_g)} g`].filter(Boolean).join(" · ")}</span>
      </div>
      <p>{mix.verdict}</p>
      <CompositionBar parts={mix.strata} most={100} water of={mix.name} />
    </li>
  );
}
