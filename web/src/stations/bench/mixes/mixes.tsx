import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { Link, useNavigate } from "react-router";

import { answer, api } from "../../../shared/api/client";
import { type MixFilter, mixesQuery, tagsQuery } from "../../../shared/api/queries";
import { useVocabulary } from "../../../shared/api/vocabulary";
import { Button, buttonClass } from "../../../ui/button";
import { inputClass } from "../../../ui/field";
import { StationHead } from "../../../ui/frame";
import { Select } from "../../../ui/select";
import { ToggleChips } from "../../../ui/toggle-group";
import { Waiting } from "../../../ui/waiting";
import { beginFirstSteps } from "../first-steps";
import { MixCard } from "./mix-card";
import { NewMix } from "./new-mix";

const ORDERS: { key: NonNullable<MixFilter["order"]>; name: string }[] = [
  { key: "name", name: "by name" },
  { key: "changed", name: "changed last" },
  { key: "made", name: "made last" },
];

const ALL: MixFilter = { find: "", style: "", tag: "", starred: false, archived: false, order: "name" };

/** The kitchen's mixes, each with its verdict: found by name, tag and style, starred ones first. */
export function Mixes() {
  const [wanted, setWanted] = useState(ALL);
  const [starting, setStarting] = useState<"empty" | "drafted" | null>(null);
  const mixes = useInfiniteQuery({ ...mixesQuery(useDeferredValue(wanted)), refetchOnMount: "always" });
  const set = (change: MixFilter) => setWanted({ ...wanted, ...change });
  const narrowed = JSON.stringify({ ...wanted, order: ALL.order }) !== JSON.stringify(ALL);
  return (
    <>
      <StationHead title="Mixes">
        <Link to="/bench/paste" className={buttonClass()}>
          Paste a recipe
        </Link>
        <Button kind="hot" onClick={() => setStarting("empty")}>
          New mix
        </Button>
      </StationHead>
      <Waiting query={mixes}>
        {({ pages }) => {
          const all = pages.flatMap((page) => page.items);
          const { total } = pages[0]!;
          if (total === 0 && !narrowed) return <FirstMix start={() => setStarting("drafted")} archive={() => set({ archived: true })} />;
          return (
            <div className="grid gap-3 px-4 pb-6">
              <SearchFields wanted={wanted} set={set} total={total} />
              <ul className="grid gap-3 lg:grid-cols-2">
                {all.map((mix) => (
                  <MixCard key={mix.id} mix={mix} />
                ))}
              </ul>
              {all.length === 0 && (
                <p className="text-muted">
                  No mix answers to that.{" "}
                  <button type="button" className="underline" onClick={() => setWanted(ALL)}>
                    Show all of them
                  </button>
                </p>
              )}
              {mixes.hasNextPage && (
                <Button className="justify-self-center" disabled={mixes.isFetchingNextPage} onClick={() => void mixes.fetchNextPage()}>
                  Show more
                </Button>
              )}
            </div>
          );
        }}
      </Waiting>
      <NewMix open={starting !== null} drafted={starting === "drafted"} onClose={() => setStarting(null)} />
    </>
  );
}

const STARRED = "starred";
const ARCHIVED = "archived";

function SearchFields({ wanted, set, total }: { wanted: MixFilter; set: (change: MixFilter) => void; total: number }) {
  const tags = useQuery(tagsQuery);
  const { styles } = useVocabulary();
  const marks = [wanted.starred ? STARRED : "", wanted.archived ? ARCHIVED : ""].filter(Boolean);
  return (
    <search className="flex flex-wrap items-center gap-2">
      <input
        type="search"
        aria-label="Find a mix"
        placeholder="Find by name or tag"
        value={wanted.find}
        maxLength={100}
        onChange={(event) => set({ find: event.target.value })}
        className={`${inputClass} sm:w-64!`}
      />
      <div className="w-44">
        <Select label="Style" hideLabel value={wanted.style ?? ""} options={[{ key: "", name: "every style" }, ...styles]} onChange={(style) => set({ style })} />
      </div>
      <div className="w-36">
        <Select label="Order" hideLabel value={wanted.order ?? "name"} options={ORDERS} onChange={(key) => set({ order: key as NonNullable<MixFilter["order"]> })} />
      </div>
      <ToggleChips
        label="Marks"
        on={marks}
        options={[
          { key: STARRED, name: "starred" },
          { key: ARCHIVED, name: "archive" },
        ]}
        onChange={(on) => set({ starred: on.includes(STARRED), archived: on.includes(ARCHIVED) })}
      />
      {tags.data && tags.data.length > 0 && (
        <ToggleChips
          label="Tags"
          on={wanted.tag ? [wanted.tag] : []}
          options={tags.data.map((tag) => ({ key: tag, name: tag }))}
          onChange={(on) => set({ tag: on.find((tag) => tag !== wanted.tag) ?? "" })}
        />
      )}
      <span role="status" className="ml-auto text-sm text-muted">
        {total === 1 ? "1 mix" : `${total} mixes`}
      </span>
    </search>
  );
}

/** The first screen of a new kitchen: three ways to begin. */
function FirstMix({ start, archive }: { start: () => void; archive: () => void }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const bring = useMutation({
    mutationFn: () => answer(api.POST("/examples")),
    onSuccess: () => client.invalidateQueries({ queryKey: ["mixes"] }),
  });
  const ways = [
    { name: "Start from a style", says: "Say what it is to be and how much. You get a first draft inside the usual bands, with its method.", act: start, hot: true },
    { name: "Paste a recipe", says: "From a book, a page or a friend, in cups or grams. You see what it will be before you make it.", act: () => void navigate("/bench/paste"), hot: false },
    { name: "Open the demo kitchen’s mixes", says: "Eight frozen things of Sluice No. 9, a tea kiosk beside a canal lock, to take apart and change.", act: () => bring.mutate(), hot: false },
  ];
  return (
    <div className="mx-4 grid max-w-4xl gap-3">
      <h2 className="text-xl">Your first mix</h2>
      <p>Whatever goes in, you see at once what it will be: how sweet, how rich, and at which temperature it scoops.</p>
      <ul className="grid gap-3 md:grid-cols-3">
        {ways.map((way) => (
          <li key={way.name} className="panel flex flex-col items-start gap-3 p-5">
            <p className="flex-1">{way.says}</p>
            <Button
              kind={way.hot ? "hot" : "plain"}
              disabled={bring.isPending}
              onClick={() => {
                beginFirstSteps();
                way.act();
              }}
            >
              {way.name}
            </Button>
          </li>
        ))}
      </ul>
      {bring.error && <p role="alert">{bring.error.message}</p>}
      <button type="button" onClick={archive} className="justify-self-start text-sm text-muted underline">
        look into the archive
      </button>
    </div>
  );
}
