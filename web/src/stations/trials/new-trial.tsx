import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useSearchParams } from "react-router";

import { answer, api, type Schemas } from "../../shared/api/client";
import { everyMixQuery, mixQuery } from "../../shared/api/queries";
import { useDebouncedValue } from "../../shared/use-debounced-value";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { StationHead } from "../../ui/frame";
import { Select } from "../../ui/select";
import { ToggleGroup } from "../../ui/toggle-group";
import { Waiting } from "../../ui/waiting";
import { Between } from "./between";
import { askedLadder, factorsOf, type Ladder, LadderForm, newLadder } from "./ladder-form";
import { SmallTubs } from "./small-tubs";
import { Split } from "./split";

type NewTrial = Schemas["NewTrial"];

/** A trial to be begun: a ladder of one mix in three choices, or mixes side by side; what it would be is drawn at once. */
export function NewTrialPage() {
  const [search] = useSearchParams();
  const [way, setWay] = useState("ladder");
  const mixes = useQuery(everyMixQuery);
  return (
    <>
      <StationHead title="New trial">
        <ToggleGroup
          label="What kind"
          value={way}
          options={[
            { key: "ladder", name: "A ladder of one mix" },
            { key: "sides", name: "Mixes side by side" },
          ]}
          onChange={setWay}
        />
      </StationHead>
      <Waiting query={mixes}>
        {(found) =>
          way === "ladder" ? <NewLadder mixes={found} start={search.get("mix") ?? String(found[0]?.id ?? "")} aim={search.get("aim")} values={search.get("values")} /> : <NewSides mixes={found} />
        }
      </Waiting>
    </>
  );
}

type Summaries = { id: number; name: string }[];

function NewLadder({ mixes, start, aim, values }: { mixes: Summaries; start: string; aim: string | null; values: string | null }) {
  const [mixId, setMixId] = useState(start);
  const mix = useQuery({ ...mixQuery(Number(mixId)), enabled: mixId !== "" });
  if (mixId === "") return <p className="panel mx-4 max-w-xl p-6">There is no mix yet to make a ladder of.</p>;
  return (
    <div className="px-4">
      <div className="panel mb-3 max-w-md p-4">
        <Select label="The mix" value={mixId} options={mixes.map(({ id, name }) => ({ key: String(id), name }))} onChange={setMixId} />
      </div>
      <Waiting query={mix}>{(found) => <Choices key={found.id} mix={found} first={askedLadder(found, aim, values) ?? newLadder(found)} />}</Waiting>
    </div>
  );
}

function Choices({ mix, first }: { mix: Schemas["MixOut"]; first: Ladder }) {
  const [ladder, setLadder] = useState(first);
  const [second, setSecond] = useState<Ladder | null>(null);
  const [name, setName] = useState("");
  const [serve, setServe] = useState("-14");
  const factors = [ladder, ...(second ? [second] : [])].map(factorsOf);
  const body = {
    name: name.trim() || "A ladder",
    mix: mix.id,
    factors: factors.filter((factor) => factor !== null),
    sides: [],
    serve_c: serve === "own" ? null : Number(serve),
    spare_pct: 5,
  };
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-3 lg:grid-cols-[22rem_minmax(0,1fr)]">
      <div className="panel grid gap-4 p-4">
        <LadderForm mix={mix} ladder={ladder} onChange={setLadder} />
        {second ? (
          <>
            <h2 className="border-t border-line pt-3 text-lg">And besides</h2>
            <LadderForm mix={mix} ladder={second} onChange={setSecond} />
            <Button onClick={() => setSecond(null)}>Without the second</Button>
          </>
        ) : (
          <Button onClick={() => setSecond(newLadder(mix))}>A second thing besides, as a grid</Button>
        )}
        <ServeAt serve={serve} onServe={setServe} />
        <Field label="What is the question?" value={name} maxLength={120} placeholder="How much dextrose?" onChange={(event) => setName(event.target.value)} />
      </div>
      <Preview body={body} ready={factors.every((factor) => factor !== null)} named={name.trim() !== ""} />
    </div>
  );
}

function ServeAt({ serve, onServe }: { serve: string; onServe: (serve: string) => void }) {
  return (
    <Select
      label="Served"
      value={serve}
      options={[
        { key: "-14", name: "all at −14 °C: the mix as it is" },
        { key: "-12", name: "all at −12 °C: the mix as it is" },
        { key: "own", name: "each where it scoops: taste alone" },
      ]}
      onChange={onServe}
    />
  );
}

const MOST = 6;

function NewSides({ mixes }: { mixes: Summaries }) {
  const [chosen, setChosen] = useState<string[]>(mixes.slice(0, 2).map(({ id }) => String(id)));
  const [name, setName] = useState("");
  const [serve, setServe] = useState("-14");
  const body = { name: name.trim() || "Side by side", factors: [], sides: chosen.map((id) => ({ mix: Number(id) })), serve_c: serve === "own" ? null : Number(serve), spare_pct: 5 };
  const options = mixes.map(({ id, name: called }) => ({ key: String(id), name: called }));
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-3 px-4 lg:grid-cols-[22rem_minmax(0,1fr)]">
      <div className="panel grid gap-4 p-4">
        {chosen.map((id, at) => (
          <Select key={at} label={`Mix ${"ABCDEF"[at]}`} value={id} options={options} onChange={(now) => setChosen(chosen.map((other, place) => (place === at ? now : other)))} />
        ))}
        <div className="flex gap-2">
          <Button disabled={chosen.length >= MOST} onClick={() => setChosen([...chosen, options[0]?.key ?? ""])}>
            One more
          </Button>
          <Button disabled={chosen.length <= 2} onClick={() => setChosen(chosen.slice(0, -1))}>
            One less
          </Button>
        </div>
        <ServeAt serve={serve} onServe={setServe} />
        <Field label="What is the question?" value={name} maxLength={120} placeholder="Which of the two?" onChange={(event) => setName(event.target.value)} />
      </div>
      <Preview body={body} ready={chosen.length > 1} named={name.trim() !== ""} />
    </div>
  );
}

/** What the trial would be, drawn as it is chosen, and the press that begins it. */
function Preview({ body, ready, named }: { body: NewTrial; ready: boolean; named: boolean }) {
  const navigate = useNavigate();
  const rested = useDebouncedValue(body);
  const shape = { ...rested, name: "A trial" };
  const preview = useQuery({
    queryKey: ["trials", "preview", JSON.stringify(shape)],
    queryFn: ({ signal }) => answer(api.POST("/trials/preview", { body: shape, signal })),
    enabled: ready,
    retry: false,
    placeholderData: keepPreviousData,
  });
  const begin = useMutation({
    mutationFn: () => answer(api.POST("/trials", { body })),
    onSuccess: (trial) => navigate(`/trials/${trial.id}`),
  });
  const wrong = preview.error ?? begin.error;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-3">
      <div className="panel min-w-0 p-4">
        {wrong && (
          <p role="alert" className="text-hot">
            {wrong.message}
          </p>
        )}
        {preview.data && !preview.error && (
          <>
            {preview.data.changes.map((change) => (
              <h2 key={change} className="text-lg">
                {change}
              </h2>
            ))}
            <p className="mb-3 text-muted">{preview.data.held.join(" ")}</p>
            <SmallTubs trial={preview.data} />
            <Between between={preview.data.between} />
            {preview.data.proposal && <p className="mt-3">{preview.data.proposal.said}</p>}
          </>
        )}
        <div className="mt-4 flex items-center gap-3">
          <Button kind="hot" disabled={!preview.data || !!preview.error || begin.isPending || !named} onClick={() => begin.mutate()}>
            Begin the trial
          </Button>
          {!named && <span className="text-sm text-muted">Say what the question is.</span>}
        </div>
      </div>
      {preview.data && !preview.error && <Split split={preview.data.split} count={preview.data.variants.length} />}
    </div>
  );
}
