import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useLocation, useNavigate } from "react-router";

import { answer, api, asForm, type Schemas } from "../../../shared/api/client";
import { useKitchen } from "../../../shared/api/kitchen";
import { shelfChanged } from "../../../shared/api/queries";
import { useOnce } from "../../../shared/api/use-once";
import { useVocabulary } from "../../../shared/api/vocabulary";
import { Button, Key } from "../../../ui/button";
import { Field, inputClass } from "../../../ui/field";
import { FileField } from "../../../ui/file-field";
import { StationHead } from "../../../ui/frame";
import { LineOfRecipe } from "./line-of-recipe";
import { beginReading, bodyOf, isOpen, nextOpen, type PastedLine } from "./reading";
import { Select } from "../../../ui/select";

const MOST_TEXT = 900_000;
const EXAMPLE = `Rhubarb buttermilk ice
2 cups buttermilk
1 cup heavy cream
3/4 cup sugar
2 cups rhubarb, cooked down by half
a pinch of salt`;

/**
 * A recipe as people have it becomes lines with amounts; the doubtful ones are settled with a key each. A mix
 * file has no doubtful ones and goes to the Bench at once.
 */
export function PasteRecipe() {
  const handed = useLocation().state as { text?: string } | null;
  const [text, setText] = useState(handed?.text ?? "");
  const navigate = useNavigate();
  const client = useQueryClient();
  const read = useMutation({
    mutationFn: async ({ text: pasted, american = null }: { text: string; american?: boolean | null }) => {
      if (!isMixFile(pasted)) return answer(api.POST("/recipe-readings", { body: { text: pasted, american } }));
      const mix = await bringIn(pasted);
      await shelfChanged(client);
      await navigate(`/bench/${mix.id}`);
      return null;
    },
  });
  const { mutate, reset } = read;
  useEffect(() => {
    if (handed?.text) mutate({ text: handed.text });
  }, [handed, mutate]);

  if (read.data) return <LookThrough key={read.data.spoons} recipe={read.data} again={reset} reread={(american) => mutate({ text: read.variables?.text ?? "", american })} />;
  return (
    <>
      <StationHead title="Paste a recipe" />
      <form
        className="panel mx-4 mb-6 grid max-w-3xl gap-3 p-5"
        onSubmit={(event) => {
          event.preventDefault();
          mutate({ text });
        }}
      >
        <label htmlFor="recipe-text">
          The recipe as you have it: its text, a saved web page, a page’s recipe data, or a mix file. One ingredient a line; the method is kept too.
        </label>
        <textarea
          id="recipe-text"
          value={text}
          autoFocus
          maxLength={MOST_TEXT}
          rows={16}
          placeholder={EXAMPLE}
          aria-describedby={read.error ? "recipe-error" : undefined}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) mutate({ text });
          }}
          className={inputClass}
        />
        {read.error && (
          <p id="recipe-error" role="alert" className="text-hot">
            {read.error.message}
          </p>
        )}
        <div className="flex flex-wrap items-center gap-x-6 gap-y-3">
          <Button type="submit" kind="hot" disabled={read.isPending}>
            Read it <Key>Ctrl ↵</Key>
          </Button>
          <FileField
            label="or from a file"
            accept=".json,.txt,.html,.htm,.md,application/json,text/*"
            choose={(file) => {
              void file?.text().then((held) => {
                setText(held.slice(0, MOST_TEXT));
                mutate({ text: held });
              });
            }}
          />
        </div>
      </form>
    </>
  );
}

function isMixFile(text: string): boolean {
  try {
    const read: unknown = JSON.parse(text);
    return typeof read === "object" && read !== null && "format" in read && read.format === "jalebi.mix";
  } catch {
    return false;
  }
}

function bringIn(text: string): Promise<Schemas["MixOut"]> {
  return answer(api.POST("/mixes/files", asForm(new File([text], "mix.jalebi.json", { type: "application/json" }))));
}

function LookThrough({ recipe, again, reread }: { recipe: Schemas["RecipeOut"]; again: () => void; reread: (american: boolean) => void }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const [name, setName] = useState(recipe.name || "Pasted recipe");
  const [style, setStyle] = useState(recipe.style ?? "");
  const [lines, setLines] = useState(() => beginReading(recipe));
  const [at, setAt] = useState(() => Math.max(nextOpen(lines, -1), 0));
  const open = lines.filter(isOpen).length;
  const toBench = useRef<HTMLButtonElement>(null);
  const once = useOnce();
  const make = useMutation({
    mutationFn: () => {
      const body = {
        name,
        style: style || null,
        lines: bodyOf(lines),
        method: recipe.method,
        servings: recipe.servings,
        makes: recipe.makes?.slice(0, 40) ?? "",
      };
      return answer(api.POST("/mixes/recipes", { body, ...once(body) }));
    },
    onSuccess: async (mix) => {
      await shelfChanged(client);
      await navigate(`/bench/${mix.id}`);
    },
  });

  function change(index: number, changes: Partial<PastedLine>, goOn = false) {
    const now = lines.map((line, other) => (other === index ? { ...line, ...changes } : line));
    setLines(now);
    if (!goOn) return;
    const next = nextOpen(now, index);
    if (next >= 0) setAt(next);
    else window.setTimeout(() => toBench.current?.focus()); // once the button can be pressed
  }

  return (
    <>
      <StationHead title="Is this what is meant?">
        <Button onClick={again}>Paste another text</Button>
        <Button ref={toBench} kind="hot" onClick={() => make.mutate()} disabled={make.isPending || open > 0 || lines.every((line) => line.left)}>
          Put it on the Bench
        </Button>
      </StationHead>
      <div className="grid gap-3 px-4 pb-6">
        <LookedThrough recipe={recipe} reread={reread} open={open} name={name} setName={setName} style={style} setStyle={setStyle} />
        {make.error && (
          <p role="alert" className="panel border-hot px-4 py-3">
            {make.error.message}
          </p>
        )}
        <ol className="panel divide-y divide-line">
          {lines.map((line, index) => (
            <LineOfRecipe
              key={index}
              line={line}
              current={index === at}
              choose={() => setAt(index)}
              change={(changes, goOn) => change(index, changes, goOn)}
              step={(by) => setAt(Math.min(Math.max(index + by, 0), lines.length - 1))}
            />
          ))}
        </ol>
      </div>
    </>
  );
}

type HeadProps = { recipe: Schemas["RecipeOut"]; reread: (american: boolean) => void; open: number; name: string; setName: (name: string) => void; style: string; setStyle: (style: string) => void };

/** What it is to be called, how far it is looked through, and the keys that do it. */
function LookedThrough({ recipe, reread, open, name, setName, style, setStyle }: HeadProps) {
  const { styles } = useVocabulary();
  return (
      <div className="panel flex flex-wrap items-end gap-4 p-4">
        <div className="w-64">
          <Field label="Name" value={name} required maxLength={200} onChange={(event) => setName(event.target.value)} />
        </div>
        <div className="w-44">
          <Select
            label="Style"
            value={style}
            options={[{ key: "", name: "not decided yet" }, ...styles]}
            onChange={(key) => setStyle(key)}
          />
        </div>
        <p role="status" className={`pb-1.5 ${open > 0 ? "font-semibold text-hot" : "text-muted"}`}>
          {open === 0 ? "Every line is clear." : open === 1 ? "One line waits for you." : `${open} lines wait for you.`}
          <span className="block text-sm font-normal text-muted">{summary(recipe)}</span>
          <CupsSaid recipe={recipe} reread={reread} />
          {recipe.doubts.map((doubt) => (
            <span key={doubt} className="block text-sm font-normal text-muted">
              {doubt}
            </span>
          ))}
        </p>
        <p className="ml-auto pb-1.5 text-right text-sm text-muted">
          <Key>1</Key>–<Key>5</Key> which it is, <Key>Enter</Key> it is right
          <br />
          <Key>Del</Key> leave it out, <Key>↑</Key> <Key>↓</Key> go
        </p>
      </div>
  );
}

/** Amounts that depend on whose cups and spoons they are. */
const MEASURED = /\b(cups?|tbsp|tsp|fl oz|pints?|quarts?)\b/;

/** Whose cups it was read with, where those are not the kitchen's own. */
function CupsSaid({ recipe, reread }: { recipe: Schemas["RecipeOut"]; reread: (american: boolean) => void }) {
  const { spoons } = useKitchen();
  if (spoons === "us" || !recipe.lines.some(({ typed }) => MEASURED.test(typed))) return null;
  const american = recipe.spoons === "us";
  return (
    <span className="block text-sm font-normal text-muted">
      Read with {american ? "US cups and spoons, a cup of 237 ml" : "the cups and spoons of this kitchen"}.{" "}
      <button type="button" className="underline hover:text-ink" onClick={() => reread(!american)}>
        {american ? "Take the kitchen’s instead" : "Is it American?"}
      </button>
    </span>
  );
}

function summary(recipe: Schemas["RecipeOut"]): string {
  const said = [`${recipe.lines.length} lines`];
  if (recipe.method.length > 0) said.push(`${recipe.method.length} ${recipe.method.length === 1 ? "sentence" : "sentences"} of method`);
  if (recipe.servings) said.push(`serves ${recipe.servings}`);
  if (recipe.makes) said.push(`makes ${recipe.makes}`);
  return said.join(", ");
}
