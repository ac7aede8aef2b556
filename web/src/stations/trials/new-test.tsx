import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { answer, api, type Schemas } from "../../shared/api/client";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { Select } from "../../ui/select";
import { SheetDialog } from "../../ui/sheet-dialog";
import { ToggleChips } from "../../ui/toggle-group";
import { ATTRIBUTES, KINDS } from "./kinds";

/** A test to be begun: what is proposed stands there already. */
export function NewTestDialog({ trial, onClose }: { trial: Schemas["TrialOut"]; onClose: () => void }) {
  const client = useQueryClient();
  const keys = trial.variants.map(({ key }) => key);
  const [kind, setKind] = useState<string>(trial.proposal?.kind ?? "preference");
  const [attribute, setAttribute] = useState(trial.proposal?.attribute || "sweetness");
  const [chosen, setChosen] = useState([keys[0] ?? "A", keys.at(-1) ?? "B"]);
  const [tasters, setTasters] = useState("");
  const begin = useMutation({
    mutationFn: () =>
      answer(
        api.POST("/trials/{trial_id}/tests", {
          params: { path: { trial_id: trial.id ?? 0 } },
          body: {
            kind: kind as Schemas["NewTest"]["kind"],
            attribute: KINDS[kind]?.asks ? attribute : "",
            variants: chosen,
            tasters: tasters.split(/[,\n]/).map((name) => name.trim()).filter(Boolean),
            replicates: 1,
          },
        }),
      ),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ["trials", trial.id] });
      onClose();
    },
  });
  return (
    <SheetDialog open onOpenChange={(open) => !open && onClose()} title="A test" {...(trial.proposal ? { explanation: trial.proposal.said } : {})}>
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          begin.mutate();
        }}
      >
        <Select label="What is asked" value={kind} options={Object.entries(KINDS).map(([key, { name }]) => ({ key, name }))} onChange={setKind} />
        {KINDS[kind]?.asks && <Select label="More of what" value={attribute} options={ATTRIBUTES} onChange={setAttribute} />}
        <div className="grid gap-1">
          <span className="font-semibold">{KINDS[kind]?.two ? "Two of them" : "Of which"}</span>
          <ToggleChips label="Variants" on={chosen} options={trial.variants.map(({ key, name }) => ({ key, name: `${key}, ${name}` }))} onChange={(on) => setChosen(KINDS[kind]?.two ? on.slice(-2) : on)} />
        </div>
        <Field label="Tasters, by name" value={tasters} required placeholder="Ada, Bo, Cy" onChange={(event) => setTasters(event.target.value)} />
        {begin.error && (
          <p role="alert" className="text-hot">
            {begin.error.message}
          </p>
        )}
        <Button type="submit" kind="hot" disabled={begin.isPending || tasters.trim() === ""}>
          Begin the test
        </Button>
      </form>
    </SheetDialog>
  );
}
