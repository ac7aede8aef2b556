import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { CompositionBar } from "../../../charts/composition-bar";
import { answer, api, ifMatch, type Schemas } from "../../../shared/api/client";
import { ingredientQuery, shelfChanged } from "../../../shared/api/queries";
import { readNumber } from "../../../shared/format/numbers";
import { Button } from "../../../ui/button";
import { inputClass } from "../../../ui/field";
import { SheetDialog } from "../../../ui/sheet-dialog";
import { useBenchActions, useDraft, useReading } from "../bench-context";
import { bodyOf } from "../draft/draft";
import { LineConstraints } from "./line-constraints";
import { useUnits } from "../../../shared/format/units";

/** One line looked at closely: what it is, what it is taken for by mistake, what could stand in, what one piece weighs. */
export function LineDialog({ lineKey, onClose }: { lineKey: string | null; onClose: () => void }) {
  const { draft } = useDraft();
  const at = draft.lines.findIndex((line) => line.key === lineKey);
  const line = draft.lines[at];
  const ingredient = useQuery({ ...ingredientQuery(line?.ingredient ?? ""), enabled: line !== undefined });
  return (
    <SheetDialog open={line !== undefined} onOpenChange={(open) => !open && onClose()} title={ingredient.data?.name ?? "One moment…"} wide>
      {line && ingredient.data && (
        <Look at={at} ingredient={ingredient.data} onClose={onClose} />
      )}
      {ingredient.error && <p role="alert">{ingredient.error.message}</p>}
    </SheetDialog>
  );
}

function Look({ at, ingredient, onClose }: { at: number; ingredient: Schemas["IngredientDetail"]; onClose: () => void }) {
  const units = useUnits();
  const { edit, prepare } = useBenchActions();
  const { draft } = useDraft();
  const { reading } = useReading();
  const without = `without:${ingredient.slug}`;
  const body = { ...bodyOf(draft), line: at };
  const look = useQuery({
    queryKey: ["line", body],
    queryFn: () => answer(api.POST("/line-insights", { body })),
  });
  const key = draft.lines[at]!.key;

  function swap(found: Schemas["SwapOut"]) {
    edit({ kind: "swap", key, lines: found.lines.map((line) => ({ ingredient: line.ingredient, typed: units.typedMass(line.grams) })) });
    onClose();
  }

  return (
    <div className="grid gap-4">
      <CompositionBar parts={ingredient.strata} most={100} water of={ingredient.name} />
      <Facts ingredient={ingredient} cautions={[reading?.lines[at]?.mind]} />
      <div className="flex flex-wrap gap-2">
        {!ingredient.made_from && <Button onClick={() => prepare(at)}>Prepare it first: reduce, steep, strain…</Button>}
        {!draft.restrictions.includes(without) && (
          <Button onClick={() => edit({ kind: "restrictions", restrictions: [...draft.restrictions, without] })}>
            Not for us: keep it out of this mix
          </Button>
        )}
      </div>
      <LineConstraints line={draft.lines[at]!} pieces={Object.keys(ingredient.pieces)} forms={ingredient.forms} edit={edit} />
      <Measures ingredient={ingredient} />
      {look.data && look.data.confusions.length > 0 && (
        <section aria-labelledby="mistaken">
          <h3 id="mistaken">Taken by mistake</h3>
          <p className="text-muted">{look.data.confusions[0]!.differ}</p>
          <ul className="mt-1 grid gap-1">
            {look.data.confusions.map((other) => (
              <li key={other.name}>
                <b>{other.name}</b> instead: {other.effect.message}.
              </li>
            ))}
          </ul>
        </section>
      )}
      <section aria-labelledby="stands-in">
        <h3 id="stands-in">What could stand in</h3>
        {look.data?.offends && (
          <p className="text-hot">
            {ingredient.name} {look.data.offends}.
          </p>
        )}
        {look.isPending && <p className="text-muted">One moment…</p>}
        {look.error && <p role="alert">{look.error.message}</p>}
        {look.data?.swaps.length === 0 && <p className="text-muted">Nothing that we know of and that keeps the restrictions.</p>}
        <ul className="grid">
          {look.data?.swaps.map((found) => (
            <li key={found.lines[0]!.ingredient} className="grid grid-cols-[1fr_auto] items-center gap-3 border-b border-line py-2 last:border-0">
              <span>
                <b>{found.lines.map((line) => `${units.mass(line.grams)} ${line.name}`).join(" + ")}</b>
                <span className="block text-muted">
                  {found.brings.length > 0 && <b className="text-hot">Brings {found.brings.join(", ")}. </b>}
                  at equal {found.equal}: {found.effect.message}. {found.taste.charAt(0).toUpperCase() + found.taste.slice(1)}.
                </span>
              </span>
              <Button onClick={() => swap(found)} aria-label={`Swap for ${found.lines[0]!.name}`}>
                Swap
              </Button>
            </li>
          ))}
        </ul>
      </section>
    </div>
  );
}

/** What is known of an ingredient beside its make-up, in sentences; `cautions` are those of where it goes in. */
export function Facts({ ingredient, cautions }: { ingredient: Schemas["IngredientDetail"]; cautions: (string | null | undefined)[] }) {
  const facts = ingredient.facts as { hydrates?: string; for_guests?: string; warnings?: string[]; keeps?: { days: number; in: string } };
  const { dose_pct: dose, strength_g_kg: ladder } = ingredient.facts as { dose_pct?: number[]; strength_g_kg?: number[] };
  return (
    <div className="grid gap-1">
      <p className="text-muted">
        {sentence(ingredient.basis)} How sure: {ingredient.sure_said}.
      </p>
      {facts.for_guests && <p>For guests: {facts.for_guests}</p>}
      {dose && (
        <p>
          Dose {dose[0]}–{dose[1]} % of the mix{facts.hydrates ? `; ${facts.hydrates}` : ""}.
        </p>
      )}
      {ladder && (
        <p>
          Flavours a mix at {ladder[0]}–{ladder[1]} g per kg, from faint to strong.
        </p>
      )}
      {facts.keeps && (
        <p>
          Once open or made it keeps {facts.keeps.days} {facts.keeps.days === 1 ? "day" : "days"} in the {facts.keeps.in}.
        </p>
      )}
      {[...cautions, ...(facts.warnings ?? [])].filter((warning) => typeof warning === "string").map((warning) => (
        <p key={warning} className="border-l-3 border-hot pl-2">
          {warning}
        </p>
      ))}
      {ingredient.made_from && (
        <p>
          <Link to={`/shelf/preparations/${ingredient.slug}`} className="underline">
            See what it is made from
          </Link>
        </p>
      )}
    </div>
  );
}

function sentence(text: string): string {
  const begun = text.charAt(0).toUpperCase() + text.slice(1);
  return begun.endsWith(".") ? begun : `${begun}.`;
}

/** What one piece weighs here: the assumption, and the kitchen's own weighing in its place. */
function Measures({ ingredient }: { ingredient: Schemas["IngredientDetail"] }) {
  const client = useQueryClient();
  const pieces = Object.entries(ingredient.pieces);
  const change = useMutation({
    mutationFn: (pieces: Record<string, number>) =>
      answer(
        api.PATCH("/ingredients/{slug}", {
          params: { path: { slug: ingredient.slug } },
          body: { pieces, supplier: "", why: "weighed" },
          ...ifMatch(ingredient.version),
        }),
      ),
    onSuccess: () => shelfChanged(client),
  });
  if (pieces.length === 0 || ingredient.made_from) return null;
  return (
    <section aria-labelledby="one-weighs" className="grid gap-1.5">
      <h3 id="one-weighs">One weighs here</h3>
      <div className="flex flex-wrap gap-4">
        {pieces.map(([piece, weight]) => (
          <Piece key={`${piece} ${weight}`} piece={piece} weight={weight} keep={(now) => change.mutate({ ...ingredient.pieces, [piece]: now })} />
        ))}
      </div>
      {change.error && <p role="alert">{change.error.message}</p>}
    </section>
  );
}

function Piece({ piece, weight, keep }: { piece: string; weight: number; keep: (grams: number) => void }) {
  const units = useUnits();
  const [typed, setTyped] = useState(units.number(weight, Number.isInteger(weight) ? 0 : 1));
  const read = readNumber(typed);
  const changed = read !== null && read > 0 && read !== weight;
  return (
    <label className="flex items-baseline gap-1.5">
      {piece}
      <input
        value={typed}
        inputMode="decimal"
        maxLength={8}
        aria-invalid={read === null || undefined}
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => event.key === "Enter" && changed && keep(read)}
        className={`${inputClass} w-20! text-right`}
      />
      g
      {changed && (
        <button type="button" className="underline" onClick={() => keep(read)}>
          weighed so
        </button>
      )}
    </label>
  );
}
