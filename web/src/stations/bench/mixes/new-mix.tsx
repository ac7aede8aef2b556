import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";

import { answer, api, faultAt } from "../../../shared/api/client";
import { useOnce } from "../../../shared/api/use-once";
import { useVocabulary } from "../../../shared/api/vocabulary";
import { readNumber } from "../../../shared/format/numbers";
import { Button } from "../../../ui/button";
import { FaultOfAll, Field } from "../../../ui/field";
import { SheetDialog } from "../../../ui/sheet-dialog";
import { Select } from "../../../ui/select";

/** The mix to copy; what is not kept of it yet is sent first. */
type Source = { id: number; name: string; flush: () => Promise<void> };

/** Ask for the name of a new mix, from nothing, as a copy, or `drafted` from its style, and open it on the Bench. */
export function NewMix(props: { open: boolean; onClose: () => void; copyOf?: Source; drafted?: boolean }) {
  const { copyOf } = props;
  return (
    <SheetDialog
      open={props.open}
      onOpenChange={(now) => !now && props.onClose()}
      title={copyOf ? `Copy of ${copyOf.name}` : "New mix"}
    >
      <NewMixForm copyOf={copyOf} drafted={props.drafted ?? false} onClose={props.onClose} />
    </SheetDialog>
  );
}

function NewMixForm({ copyOf, drafted, onClose }: { copyOf: Source | undefined; drafted: boolean; onClose: () => void }) {
  const { styles, approaches } = useVocabulary();
  const navigate = useNavigate();
  const client = useQueryClient();
  const [name, setName] = useState(copyOf ? `${copyOf.name} 2` : "");
  const [style, setStyle] = useState("");
  const [approach, setApproach] = useState("");
  const [batch, setBatch] = useState("1000");
  const made = approaches.filter((known) => known.styles.includes(style));
  const chosen = made.find((known) => known.key === approach);
  const batchGrams = readNumber(batch);
  const once = useOnce();
  const create = useMutation({
    mutationFn: async () => {
      await copyOf?.flush();
      const begin = chosen ? { approach: chosen.key, batch_g: batchGrams } : {};
      const body = { name, style: style || null, copy_of: copyOf?.id ?? null, ...begin };
      return answer(api.POST("/mixes", { body, ...once(body) }));
    },
    onSuccess: async (mix) => {
      await client.invalidateQueries({ queryKey: ["mixes"] });
      onClose();
      await navigate(`/bench/${mix.id}`);
    },
  });
  return (
    <form
      className="grid gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        create.mutate();
      }}
    >
      <Field label="Name" value={name} required maxLength={200} onChange={(event) => setName(event.target.value)} error={faultAt(create.error, "/name")} />
      {!copyOf && (
        <Select
          label="Style"
          value={style}
          options={[{ key: "", name: "not decided yet" }, ...styles]}
          onChange={(key) => {
            const now = key;
            setStyle(now);
            if (drafted) setApproach(approaches.find((known) => known.styles.includes(now))?.key ?? "");
          }}
        />
      )}
      {made.length > 0 && (
        <Select
          label="Begin with"
          value={chosen?.key ?? ""}
          options={[{ key: "", name: "nothing in it yet" }, ...made]}
          onChange={(key) => setApproach(key)}
        />
      )}
      {chosen && (
        <>
          <p className="text-muted">{chosen.says} A first draft inside the usual bands, with its method.</p>
          <Field
            label="Batch, g"
            value={batch}
            inputMode="decimal"
            maxLength={10}
            onChange={(event) => setBatch(event.target.value)}
            error={batchGrams === null ? "A number of grams, such as 900." : faultAt(create.error, "/batch_g")}
          />
        </>
      )}
      <FaultOfAll error={create.error} />
      <Button type="submit" kind="hot" disabled={create.isPending || (chosen !== undefined && batchGrams === null)}>
        {copyOf ? "Make the copy" : "Start this mix"}
      </Button>
    </form>
  );
}
