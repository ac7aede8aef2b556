import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";

import { answer, api, type Schemas } from "../../shared/api/client";
import { readNumber } from "../../shared/format/numbers";
import { type Units, useUnits } from "../../shared/format/units";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { Select } from "../../ui/select";
import { ToggleGroup } from "../../ui/toggle-group";
import { Track } from "../../ui/track";
import { relearn } from "./relearn";

type Taste = Schemas["TasteOut"];
type Attribute = Schemas["CardAttribute"];
type Card = Schemas["NewCard"];

const PRESS = "min-h-9 min-w-9 rounded-button border border-line bg-panel px-2 text-sm aria-pressed:border-ink aria-pressed:bg-ink aria-pressed:text-panel";
const FAULTS = ["none", "a little", "clear", "strong"];

/** The card: two presses for who is in a hurry, all of it for who has a quiet spoon. What was expected stands there only after it was kept. */
export function CardForm({ taste, who }: { taste: Taste; who: string }) {
  const client = useQueryClient();
  const units = useUnits();
  const [whole, setWhole] = useState("quick");
  const [taster, setTaster] = useState(who);
  const [key, setKey] = useState(() => crypto.randomUUID());
  const [marks, setMarks] = useState<Record<string, number>>({});
  const [firmness, setFirmness] = useState<string | null>(null);
  const [liking, setLiking] = useState<number | null>(null);
  const [words, setWords] = useState("");
  const [how, setHow] = useState<How>({ place: "", outMin: "0", measured: "", eatenWith: "" });
  const [mends, setMends] = useState<number | null>(null);
  const keep = useMutation({
    mutationFn: () => answer(api.POST("/batches/{batch_id}/cards", { params: { path: { batch_id: taste.batch } }, body: cardOf(units, { key, taster, marks, firmness, liking, words, how, mends }) })),
    onSuccess: async (kept) => {
      client.setQueryData(["tastings", taste.batch], kept);
      setKey(crypto.randomUUID());
      setMarks({});
      setFirmness(null);
      setLiking(null);
      setWords("");
      setMends(null);
      setTaster("");
      await relearn(client);
    },
  });
  const asked = taste.attributes.filter(({ quick }) => quick || whole === "all");
  const empty = Object.keys(marks).length === 0 && firmness === null && liking === null && words.trim() === "";
  return (
    <section aria-label="How was it?" className="panel grid content-start gap-3 p-4">
      <div className="flex flex-wrap items-baseline gap-3">
        <h2 className="mr-auto text-lg">How was it?</h2>
        <ToggleGroup label="How much is asked" value={whole} options={[{ key: "quick", name: "In a hurry" }, { key: "all", name: "The whole card" }]} onChange={setWhole} />
      </div>
      <LikingRow liking={liking} onLiking={setLiking} />
      <FirmnessRow words={taste.firmness_words} firmness={firmness} onFirmness={setFirmness} />
      <div className="grid gap-3">
        {asked.map((one) => (
          <MarkRow key={one.key} attribute={one} mark={marks[one.key]} onMark={(mark) => setMarks({ ...marks, [one.key]: mark })} />
        ))}
      </div>
      <HowTasted taste={taste} how={how} onHow={setHow} />
      <Field label="In your own words" value={words} maxLength={1000} onChange={(event) => setWords(event.target.value)} />
      <div className="flex flex-wrap items-end gap-3">
        <div className="w-48">
          <Field label="Who tasted" value={taster} maxLength={60} onChange={(event) => setTaster(event.target.value)} />
        </div>
        <Button kind="hot" disabled={empty || taster.trim() === "" || keep.isPending} onClick={() => keep.mutate()}>
          Keep the card
        </Button>
      </div>
      {keep.error && (
        <p role="alert" className="text-hot">
          {keep.error.message}
        </p>
      )}
      <KeptCards taste={taste} mends={mends} onMend={(card) => { setMends(card.id); setTaster(card.taster); setMarks(card.marks); setFirmness(card.firmness); setLiking(card.liking); setWords(card.words); }} />
    </section>
  );
}

type How = { place: string; outMin: string; measured: string; eatenWith: string };

function cardOf(units: Units, said: { key: string; taster: string; marks: Record<string, number>; firmness: string | null; liking: number | null; words: string; how: How; mends: number | null }): Card {
  const { how, words, taster, ...rest } = said;
  return {
    ...rest,
    taster: taster.trim(),
    words: words.trim(),
    place: how.place === "" ? null : Number(how.place),
    out_min: readNumber(how.outMin),
    t_c: units.readTemperature(how.measured),
    eaten_with: how.eatenWith.trim(),
  };
}

function Row({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div role="group" aria-label={label} className="grid items-center gap-x-3 gap-y-1 sm:grid-cols-[6.5rem_1fr]">
      <b>{label}</b>
      <div className="flex flex-wrap gap-1">{children}</div>
    </div>
  );
}

function LikingRow({ liking, onLiking }: { liking: number | null; onLiking: (liking: number) => void }) {
  return (
    <Row label="Liked">
      {[1, 2, 3, 4, 5, 6, 7, 8, 9].map((value) => (
        <button key={value} type="button" className={PRESS} aria-pressed={liking === value} onClick={() => onLiking(value)}>
          {value}
        </button>
      ))}
    </Row>
  );
}

function FirmnessRow({ words, firmness, onFirmness }: { words: string[]; firmness: string | null; onFirmness: (word: string) => void }) {
  return (
    <Row label="The scoop">
      {words.map((word) => (
        <button key={word} type="button" className={PRESS} aria-pressed={firmness === word} onClick={() => onFirmness(word)}>
          {word}
        </button>
      ))}
    </Row>
  );
}

/** What is wanted, from too little to too much; a fault, from none to strong; what was expected once one has said one's own. */
function MarkRow({ attribute, mark, onMark }: { attribute: Attribute; mark: number | undefined; onMark: (mark: number) => void }) {
  const { least, most, ends, off } = attribute;
  const marks = Array.from({ length: most - least + 1 }, (_, at) => least + at);
  const said = (value: number) => (off === null ? FAULTS[value] : value === 0 ? "just right" : `${off[value > 0 ? 1 : 0]}, ${Math.abs(value) > 1 ? "by far" : "a little"}`);
  return (
    <div role="group" aria-label={attribute.name} className="grid items-center gap-x-3 gap-y-1 sm:grid-cols-[6.5rem_1fr]">
      <b title={attribute.cue}>{attribute.name}</b>
      <div className="flex items-center gap-1">
        {ends && <span className="w-13 text-right sm:w-18 text-sm leading-tight text-muted">{ends[0]}</span>}
        {marks.map((value) => (
          <button key={value} type="button" className={PRESS} aria-pressed={mark === value} aria-label={said(value)} title={said(value)} onClick={() => onMark(value)}>
            {ends === null ? FAULTS[value] : value === 0 ? "right" : "●".repeat(Math.abs(value))}
          </button>
        ))}
        {ends && <span className="w-13 text-sm sm:w-18 leading-tight text-muted">{ends[1]}</span>}
      </div>
      {attribute.expected && <Expected expected={attribute.expected} />}
    </div>
  );
}

function Expected({ expected }: { expected: Schemas["Track"] }) {
  const range = [expected.scale[0] ?? 0, expected.scale[1] ?? 100] as const;
  return (
    <span className="grid items-center gap-3 text-sm text-muted sm:col-start-2 sm:grid-cols-[12rem_1fr]">
      <Track range={range} band={[expected.band[0] ?? null, expected.band[1] ?? null]} needles={[{ at: expected.value, colour: "var(--curve)" }]} />
      expected: {expected.word}
    </span>
  );
}

function HowTasted({ taste, how, onHow }: { taste: Taste; how: How; onHow: (how: How) => void }) {
  const units = useUnits();
  return (
    <div className="grid gap-3 sm:grid-cols-2">
      <Select label="Out of" value={how.place} options={taste.freezers.map(({ id, name }) => ({ key: String(id ?? ""), name }))} onChange={(place) => onHow({ ...how, place })} />
      <Field label="Out for, minutes" inputMode="decimal" value={how.outMin} onChange={(event) => onHow({ ...how, outMin: event.target.value })} />
      <Field label={`Measured at the spoon, ${units.temperatureUnit}`} inputMode="text" value={how.measured} placeholder="not measured" onChange={(event) => onHow({ ...how, measured: event.target.value })} />
      <Field label="Eaten with" value={how.eatenWith} maxLength={60} placeholder="alone" onChange={(event) => onHow({ ...how, eatenWith: event.target.value })} />
    </div>
  );
}

function KeptCards({ taste, mends, onMend }: { taste: Taste; mends: number | null; onMend: (card: Schemas["CardOut"]) => void }) {
  const units = useUnits();
  if (taste.cards.length === 0) return null;
  return (
    <ul className="grid gap-1 border-t border-line pt-3 text-sm">
      {taste.cards.map((card) => (
        <li key={card.id} className={`flex flex-wrap gap-x-2 ${card.mended ? "text-muted line-through" : ""}`}>
          <b>{card.taster}</b>
          {card.firmness && <span>{card.firmness}</span>}
          {card.liking !== null && <span>liked {units.number(card.liking)}</span>}
          {card.words && <span>“{card.words}”</span>}
          {!card.mended && (
            <button type="button" className="ml-auto underline" aria-pressed={mends === card.id} onClick={() => onMend(card)}>
              mend
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}
