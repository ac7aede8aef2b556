import { useMutation, useQueryClient } from "@tanstack/react-query";
import { MoreVertical, Star } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";

import { CompositionBar } from "../../../charts/composition-bar";
import { answer, api, type Schemas } from "../../../shared/api/client";
import { useVocabulary } from "../../../shared/api/vocabulary";

import { Button } from "../../../ui/button";
import { Field } from "../../../ui/field";
import { Menu, MenuItem } from "../../../ui/menu";
import { SheetDialog } from "../../../ui/sheet-dialog";
import { useUnits } from "../../../shared/format/units";

type Mix = Schemas["MixSummary"];

/** One mix in the list: what it will be, when it was made, and what marks it. */
export function MixCard({ mix }: { mix: Mix }) {
  const units = useUnits();
  const { styles } = useVocabulary();
  const client = useQueryClient();
  const [tagging, setTagging] = useState(false);
  const style = styles.find((candidate) => candidate.key === mix.style)?.name;
  const mark = useMutation({
    mutationFn: (marks: Schemas["Marks"]) => answer(api.PATCH("/mixes/{mix_id}", { params: { path: { mix_id: mix.id } }, body: marks })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["mixes"] }),
  });
  return (
    <li className="panel relative grid gap-2 p-4 hover:border-muted">
      <div className="flex items-baseline gap-2">
        <button
          type="button"
          aria-pressed={mix.starred}
          aria-label={`Star ${mix.name}`}
          onClick={() => mark.mutate({ starred: !mix.starred })}
          className="z-1 grid size-7 shrink-0 place-items-center self-center rounded-button text-muted hover:bg-steel aria-pressed:text-ink"
        >
          <Star size={17} aria-hidden fill={mix.starred ? "currentColor" : "none"} />
        </button>
        <h2 className="min-w-0 truncate text-xl">
          <Link to={`/bench/${mix.id}`} className="inline-block min-h-[24px] after:absolute after:inset-0">
            {mix.name}
          </Link>
        </h2>
        <span className="z-1 ml-auto self-center">
          <Menu label={`More about ${mix.name}`} trigger={<MoreVertical size={16} aria-hidden />}>
            <MenuItem onSelect={() => setTagging(true)}>Tags…</MenuItem>
            <MenuItem onSelect={() => mark.mutate({ archived: !mix.archived })}>{mix.archived ? "Take it out of the archive" : "Put it into the archive"}</MenuItem>
          </Menu>
        </span>
      </div>
      <p>{mix.verdict}</p>
      <CompositionBar parts={mix.strata} most={100} water of={mix.name} />
      <p className="flex flex-wrap gap-x-3 text-sm text-muted">
        <span>{[style, `${units.mass(mix.mass_g)}`].filter(Boolean).join(", ")}</span>
        <span>{mix.made_at ? `made ${units.day(mix.made_at)}` : "never made"}</span>
        {mix.tags.length > 0 && <span>{mix.tags.join(", ")}</span>}
      </p>
      {mark.error && <p role="alert">{mark.error.message}</p>}
      <SheetDialog open={tagging} onOpenChange={setTagging} title={`Tags of ${mix.name}`} explanation="Words to find it by, with commas between them.">
        <Tags
          tags={mix.tags}
          keep={(tags) => {
            mark.mutate({ tags });
            setTagging(false);
          }}
        />
      </SheetDialog>
    </li>
  );
}

function Tags({ tags, keep }: { tags: string[]; keep: (tags: string[]) => void }) {
  const [typed, setTyped] = useState(tags.join(", "));
  const read = typed.split(",").map((tag) => tag.trim()).filter(Boolean);
  const long = read.find((tag) => tag.length > 40);
  const error = long ? `“${long.slice(0, 20)}…” is too long for a tag; 40 letters are the most.` : read.length > 20 ? "Twenty tags are the most." : undefined;
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (!error) keep(read);
      }}
    >
      <Field label="Tags" value={typed} maxLength={900} placeholder="fruit, autumn, signature" onChange={(event) => setTyped(event.target.value)} error={error} />
      <Button type="submit" kind="dark" disabled={error !== undefined}>
        Keep these tags
      </Button>
    </form>
  );
}
