import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { answer, api, type Schemas } from "../../shared/api/client";
import { dosesQuery } from "../../shared/api/queries";
import { readNumber } from "../../shared/format/numbers";
import { useUnits } from "../../shared/format/units";
import { Button, buttonClass } from "../../ui/button";
import { Field } from "../../ui/field";
import { StationHead } from "../../ui/frame";
import { Select } from "../../ui/select";
import { ToggleGroup } from "../../ui/toggle-group";
import { Track } from "../../ui/track";
import { Waiting } from "../../ui/waiting";
import { type Picked, PickIngredient } from "../shelf/pick-ingredient";

type Form = Schemas["NewDose"]["form"];

const FORMS: { key: Form; name: string }[] = [
  { key: "fresh", name: "fresh or as it is" },
  { key: "extract", name: "extract" },
  { key: "spirit", name: "in spirit" },
  { key: "steeped", name: "steeped and strained" },
  { key: "colour", name: "a colour, in drops" },
];
const MARKS = [
  { key: "-2", name: "far too faint" },
  { key: "-1", name: "a little faint" },
  { key: "0", name: "right" },
  { key: "1", name: "a little loud" },
  { key: "2", name: "far too loud" },
];

/** The kitchen’s own ladders of flavour and colour, tasted dose by dose and lot by lot. */
export function DosesPage() {
  const doses = useQuery(dosesQuery);
  return (
    <>
      <StationHead title="Flavour and colour, your own ladders">
        <Link to="/taste" className={buttonClass("plain")}>
          To taste
        </Link>
      </StationHead>
      <div className="grid grid-cols-[minmax(0,1fr)] items-start gap-3 px-4 pb-6 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
        <DoseForm />
        <Waiting query={doses}>
          {({ ladders }) =>
            ladders.length === 0 ? (
              <p className="panel p-6">No dose was tasted yet. Stir some into a cup of melted mix, freeze a spoon of it, and say here how it was.</p>
            ) : (
              <ul className="grid gap-3">
                {ladders.map((ladder) => (
                  <Ladder key={`${ladder.slug} ${ladder.form}`} ladder={ladder} />
                ))}
              </ul>
            )
          }
        </Waiting>
      </div>
    </>
  );
}

function Ladder({ ladder }: { ladder: Schemas["OwnLadderOut"] }) {
  const units = useUnits();
  const unit = ladder.form === "colour" ? "drops" : "g";
  const ends = [ladder.weakest, ladder.strongest, ...(ladder.usual ?? [])];
  const range = [0, 1.1 * Math.max(...ends)] as const;
  const dose = (value: number) => `${units.number(value, value < 10 ? 1 : 0)} ${unit}`;
  return (
    <li className="panel grid gap-1 p-4">
      <div className="flex flex-wrap items-baseline justify-between gap-3">
        <h2 className="text-lg">
          {ladder.name}, {FORMS.find(({ key }) => key === ladder.form)?.name}
        </h2>
        <b>{dose(ladder.right)} in a kg</b>
      </div>
      <Track className="my-2" range={range} band={[ladder.weakest, ladder.strongest]} needles={[...(ladder.usual ?? []).map((at) => ({ at, colour: "var(--muted)" })), { at: ladder.right, colour: "var(--needle)" }]} />
      <p className="text-sm">{ladder.said}</p>
      {ladder.mind && <p className="text-sm">{ladder.mind}</p>}
      {ladder.lots.length > 0 && <p className="text-sm">{ladder.lots.map(({ lot, right }) => `${lot}: ${dose(right)}`).join(" · ")}</p>}
      <ul className="text-sm text-muted">
        {ladder.tasted.slice(0, 6).map((one) => (
          <li key={one.id}>
            {units.day(one.at)}: {dose(one.dose)}, {MARKS[one.mark + 2]?.name}
            {one.lot && `, ${one.lot}`}
            {one.steep_h !== null && `, ${units.number(one.steep_h, 1)} h`}
            {one.steep_c !== null && ` at ${units.temperature(one.steep_c, 0)}`}
          </li>
        ))}
      </ul>
    </li>
  );
}

function DoseForm() {
  const client = useQueryClient();
  const units = useUnits();
  const [picked, setPicked] = useState<Picked | null>(null);
  const [form, setForm] = useState<Form>("fresh");
  const [dose, setDose] = useState("");
  const [mark, setMark] = useState("0");
  const [lot, setLot] = useState("");
  const [hours, setHours] = useState("");
  const [celsius, setCelsius] = useState("");
  const amount = readNumber(dose);
  const keep = useMutation({
    mutationFn: () =>
      answer(
        api.POST("/doses", {
          body: { ingredient: picked?.slug ?? "", form, dose: amount ?? 0, mark: Number(mark), lot: lot.trim(), steep_h: form === "steeped" ? readNumber(hours) : null, steep_c: form === "steeped" ? units.readTemperature(celsius) : null },
        }),
      ),
    onSuccess: (kept) => {
      client.setQueryData(["doses"], kept);
      setDose("");
    },
  });
  return (
    <form
      aria-label="A dose that was tasted"
      className="panel grid gap-4 p-4"
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate();
      }}
    >
      <h2 className="text-lg">A dose that was tasted</h2>
      <PickIngredient label="Of what" picked={picked} pick={setPicked} />
      <Select label="In which form" value={form} options={FORMS} onChange={(key) => setForm(key as Form)} />
      <Field label={form === "colour" ? "Drops in a kg of mix" : "g in a kg of mix"} inputMode="decimal" value={dose} onChange={(event) => setDose(event.target.value)} />
      {form === "steeped" && (
        <div className="grid grid-cols-2 gap-3">
          <Field label="Steeped, hours" inputMode="decimal" value={hours} onChange={(event) => setHours(event.target.value)} />
          <Field label={`Steeped at, ${units.temperatureUnit}`} inputMode="text" value={celsius} onChange={(event) => setCelsius(event.target.value)} />
        </div>
      )}
      <Field label="Which lot" value={lot} maxLength={120} placeholder="season, ripeness, day it was picked, species" onChange={(event) => setLot(event.target.value)} />
      <ToggleGroup label="How it was" value={mark} options={MARKS} onChange={setMark} className="flex-wrap" />
      {keep.error && (
        <p role="alert" className="text-hot">
          {keep.error.message}
        </p>
      )}
      <p className="text-sm text-muted">Foraged plants only where somebody licensed to name them has named them; what is not known to be safe is not tasted.</p>
      <Button type="submit" kind="hot" disabled={picked === null || amount === null || keep.isPending}>
        Keep it
      </Button>
    </form>
  );
}
