import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useLocation, useNavigate, useParams } from "react-router";

import { CompositionBar } from "../../../charts/composition-bar";
import { answer, api, ifMatch, type Schemas } from "../../../shared/api/client";
import { ingredientQuery, shelfChanged } from "../../../shared/api/queries";
import { listed, readNumber } from "../../../shared/format/numbers";
import { Button, buttonClass } from "../../../ui/button";
import { Field } from "../../../ui/field";
import { StationHead } from "../../../ui/frame";
import { Waiting } from "../../../ui/waiting";
import { ReductionForm } from "../../heat/reduction-form";
import { Drawing } from "./drawing";
import type { Line } from "./lines";
import { type Step, stepBody, stepOf } from "./steps";
import { type FromPreparation, type PrepareLine, takenFrom } from "./preparing";
import { type Units, useUnits } from "../../../shared/format/units";

/** What is less was used up. */
const LEAST_G = 0.05;

/** A preparation that is not on the shelf yet. */
export function NewPreparation() {
  const handed = useLocation().state as PrepareLine | null;
  const lines = handed ? [{ key: "first", picked: { ...handed.start, pieces: {} }, typed: handed.start.typed, steeped: false }] : [];
  return <Preparation name="" lines={lines} steps={[]} saved={null} back={handed?.back ?? null} />;
}

/** A preparation of the shelf: what it is made from and what is done to it. */
export function EditPreparation() {
  const slug = useParams().slug ?? "";
  const ingredient = useQuery(ingredientQuery(slug));
  return <Waiting query={ingredient}>{(known) => <Known key={known.version} known={known} />}</Waiting>;
}

function Known({ known }: { known: Schemas["IngredientDetail"] }) {
  const units = useUnits();
  if (!known.made_from) return <p className="p-6">{known.name} is bought, not made here.</p>;
  const lines = known.made_from.lines.map((line, index) => ({
    key: `${index}`,
    picked: { slug: line.ingredient, name: line.ingredient, pieces: {} },
    typed: line.unit === "g" ? line.typed : `${line.typed} ${line.unit}`,
    steeped: line.steeped ?? false,
  }));
  return <Preparation name={known.name} lines={lines} steps={(known.made_from.steps ?? []).map((step) => stepOf(step, units))} saved={known} back={null} />;
}

function Preparation(props: {
  name: string;
  lines: Line[];
  steps: Step[];
  saved: Schemas["IngredientDetail"] | null;
  back: PrepareLine["back"] | null;
}) {
  const { saved, back } = props;
  const units = useUnits();
  const navigate = useNavigate();
  const client = useQueryClient();
  const [name, setName] = useState(props.name);
  const [lines, setLines] = useState(props.lines);
  const [steps, setSteps] = useState(props.steps);
  const [keeps, setKeeps] = useState(saved?.made_from?.keeps_days?.toString() ?? "");
  const body = bodyOf(name || "Preparation", lines, steps, keeps, units);
  const preview = useQuery({
    queryKey: ["preparation", body],
    queryFn: () => answer(api.POST("/preparations/preview", { body: body! })),
    enabled: body !== null && lines.length > 0,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const keep = useMutation({
    mutationFn: () =>
      saved
        ? answer(api.PUT("/preparations/{slug}", { params: { path: { slug: saved.slug } }, body: body!, ...ifMatch(saved.version) }))
        : answer(api.POST("/preparations", { body: body! })),
    onSuccess: async (made) => {
      await shelfChanged(client);
      if (!back) return navigate("/shelf");
      const weighs = (made.facts as { pack_g: number }).pack_g;
      const used = lines.map((line, at) => ({ ingredient: line.picked.slug, grams: preview.data?.lines[at]?.grams ?? 0 }));
      const { goesIn, left } = takenFrom(back.mix, used, weighs);
      const typedLeft = left.map((grams, at) => (grams === back.mix[at]?.grams ? null : grams < LEAST_G ? "" : units.typedMass(grams, 1)));
      const state: FromPreparation = { prepared: { at: back.at, ingredient: made.slug, typed: units.typedMass(goesIn, 1), left: typedLeft } };
      return navigate(`/bench/${back.mixId}`, { state });
    },
  });
  const boiling = boilingIn(body, preview.data);
  const error = keep.error?.message ?? preview.error?.message;

  return (
    <>
      <StationHead title={saved ? saved.name : "New preparation"}>
        <Link to={back ? `/bench/${back.mixId}` : "/shelf"} className={buttonClass("quiet")}>
          {back ? "Back to the mix" : "Back to the shelf"}
        </Link>
        <Button kind="hot" disabled={body === null || name.trim() === "" || lines.length === 0 || preview.isError || keep.isPending} onClick={() => keep.mutate()}>
          {saved ? "Keep the change" : back ? "Use it in the mix" : "Put it on the shelf"}
        </Button>
      </StationHead>
      <div className="grid gap-3 px-4 pb-6">
        <div className="panel grid grid-cols-[minmax(0,24rem)_9rem] gap-3 p-4">
          <Field label="Name" value={name} required maxLength={200} placeholder="Raspberry, reduced" onChange={(event) => setName(event.target.value)} />
          <Field label="Keeps, days" value={keeps} inputMode="numeric" maxLength={5} placeholder={preview.data ? String(preview.data.keeps_days) : ""} onChange={(event) => setKeeps(event.target.value)} />
        </div>
        <Drawing lines={lines} setLines={setLines} steps={steps} setSteps={setSteps} found={preview.data} />
        <section className="panel grid content-start gap-2 p-4" aria-labelledby="result">
          <h2 id="result">What it is</h2>
          {error && (
            <p role="alert" className="text-hot">
              {error}
            </p>
          )}
          {preview.data && !preview.isError ? <Comes found={preview.data} name={name} keepsSaid={keeps.trim() !== ""} /> : <p className="text-muted">Say what goes in, and how much of each.</p>}
        </section>
        {boiling && (
          <section className="panel p-4" aria-label="How long it boils">
            <ReductionForm draft={potOf(lines)} massG={boiling.massG} tareG={boiling.tareG} target={boiling.target} />
          </section>
        )}
      </div>
    </>
  );
}

function bodyOf(name: string, lines: Line[], steps: Step[], keeps: string, units: Units): Schemas["Preparation"] | null {
  const days = readNumber(keeps);
  const written = steps.map((step) => stepBody(step, units));
  if ((keeps.trim() !== "" && days === null) || lines.some((line) => line.typed.trim() === "") || written.includes(null)) return null;
  return {
    name,
    lines: lines.map((line) => ({ ingredient: line.picked.slug, typed: line.typed, unit: "g", steeped: line.steeped })),
    steps: written.filter((step) => step !== null),
    keeps_days: days,
  };
}

type Boiling = { massG: number; tareG: number; target: { to_g: number | null; to_c: number | null } };

/** How much is in the pot before the first step that boils it down, and how far that goes. */
function boilingIn(body: Schemas["Preparation"] | null, found: Schemas["PreparationPreview"] | undefined): Boiling | null {
  const at = body?.steps.findIndex(({ kind }) => kind === "reduce") ?? -1;
  const step = body?.steps[at];
  const before = found?.flow[at];
  if (!step || !before) return null;
  const massG = before.grams;
  const to_c = step.to_c ?? null;
  const to_g = to_c === null ? (step.measured_g ?? (step.share_pct ? (massG * step.share_pct) / 100 : null)) : null;
  return to_c === null && to_g === null ? null : { massG, tareG: step.pot_g ?? 0, target: { to_g, to_c } };
}

/** What goes into the pot, as a draft. */
function potOf(lines: Line[]): Schemas["Draft"] {
  const put = lines.map((line) => ({ ingredient: line.picked.slug, typed: line.typed, unit: "g", grams: null, stage: null, pinned: false, note: "" }));
  return { style: null, overrun_pct: 0, restrictions: [], aims: {}, machine: null, lines: put };
}

function Comes({ found, name, keepsSaid }: { found: Schemas["PreparationPreview"]; name: string; keepsSaid: boolean }) {
  const units = useUnits();
  return (
    <div className="grid gap-2" role="status">
      <CompositionBar parts={found.strata} most={100} water of={name || "The preparation"} />
      {found.cautions.map((caution) => (
        <p key={caution} className="border-l-3 border-hot pl-2">
          {caution}
        </p>
      ))}
      <p className="text-muted">
        {found.components
          .filter((part) => part.grams >= 0.1)
          .map((part) => `${part.name.toLowerCase()} ${units.number(part.grams, 1)}`)
          .join(", ")}
        , g in 100 g. About {units.number(found.brix)} °Brix, sweetness {units.number(found.sweetness_pod)}, freezing power {units.number(found.freezing_power_pac)}.
      </p>
      <p>
        {found.allergens.length > 0 ? `Contains ${listed(found.allergens)}. ` : ""}
        {found.may_hold.length > 0 ? `May hold ${listed(found.may_hold, "or")}: check the labels. ` : ""}
        {found.doubts.join(" ")}
        {keepsSaid ? "" : ` Keeps ${found.keeps_days} ${found.keeps_days === 1 ? "day" : "days"}, as long as the shortest-lived thing in it.`}
        {found.cost === null ? "" : ` Costs ${units.number(found.cost, 2)} in all.`}
      </p>
      {found.assumed.map((assumed) => (
        <p key={assumed} className="text-sm text-muted">
          {assumed}
        </p>
      ))}
    </div>
  );
}
