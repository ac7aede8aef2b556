import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";

import { answer, api, savedFile } from "../../shared/api/client";
import { Button } from "../../ui/button";
import { Field } from "../../ui/field";
import { Menu, MenuItem } from "../../ui/menu";
import { SheetDialog } from "../../ui/sheet-dialog";
import { PreparingDialog } from "./preparing-dialog";
import { ReadyDialog } from "./ready-dialog";
import { usePlan } from "./use-plan";

type Asked = "preparing" | "ready" | "copy" | "mishap" | null;

/** What can be done with a whole plan. */
export function PlanMenu() {
  const { plan, shown } = usePlan();
  const [asked, setAsked] = useState<Asked>(null);
  const client = useQueryClient();
  const navigate = useNavigate();
  const away = useMutation({
    mutationFn: () => answer(api.DELETE("/plans/{plan_id}", { params: { path: { plan_id: plan.id } } })),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ["plans"] });
      await navigate("/plan");
    },
  });
  const whole = shown !== null && shown.steps.length > 0;
  return (
    <>
      <Button onClick={() => setAsked("preparing")} disabled={!whole || plan.from_file}>
        Get ready
      </Button>
      <Button onClick={() => window.print()} disabled={!whole}>
        Print
      </Button>
      <Menu trigger="More" label="More" plain>
        {whole && <MenuItem onSelect={() => setAsked("mishap")}>Something went otherwise…</MenuItem>}
        {!plan.from_file && <MenuItem onSelect={() => setAsked("ready")}>What can be ready by…</MenuItem>}
        {plan.services.length > 0 && <MenuItem onSelect={() => setAsked("copy")}>Plan the same for another day…</MenuItem>}
        {whole && <MenuItem onSelect={() => void savedFile(`/plans/${plan.id}/calendar`)}>Calendar file, everybody</MenuItem>}
        {whole &&
          Object.keys(shown.people).map((who) => (
            <MenuItem key={who} onSelect={() => void savedFile(`/plans/${plan.id}/calendar?person=${encodeURIComponent(who)}`)}>
              Calendar file, {who}
            </MenuItem>
          ))}
        {(plan.services.length > 0 || plan.from_file) && <MenuItem onSelect={() => void savedFile(`/plans/${plan.id}/file`)}>Plan file</MenuItem>}
        <MenuItem onSelect={() => away.mutate()}>Put away</MenuItem>
      </Menu>
      {asked === "preparing" && <PreparingDialog id={plan.id} onClose={() => setAsked(null)} />}
      {asked === "ready" && <ReadyDialog onClose={() => setAsked(null)} />}
      {asked === "copy" && <CopyDialog onClose={() => setAsked(null)} />}
      {asked === "mishap" && <MishapDialog onClose={() => setAsked(null)} />}
    </>
  );
}

function CopyDialog({ onClose }: { onClose: () => void }) {
  const { plan } = usePlan();
  const navigate = useNavigate();
  const [day, setDay] = useState("");
  const copy = useMutation({
    mutationFn: () => answer(api.POST("/plans/{plan_id}/copies", { params: { path: { plan_id: plan.id } }, body: { day } })),
    onSuccess: (made) => navigate(`/plan/${made.id}`),
  });
  return (
    <SheetDialog open onOpenChange={(open) => !open && onClose()} title="The same for another day" explanation="The first service moves to that day, the others keep their distance to it.">
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          copy.mutate();
        }}
      >
        <Field label="Day" type="date" required value={day} onChange={(event) => setDay(event.target.value)} error={copy.error?.message} />
        <Button type="submit" kind="hot" className="justify-self-start">
          Plan it
        </Button>
      </form>
    </SheetDialog>
  );
}

/** What is otherwise than planned from now on; each is one press, and can be taken back. */
function MishapDialog({ onClose }: { onClose: () => void }) {
  const { shown, mishap } = usePlan();
  if (!shown) return null;
  const bowls = new Set(shown.setups.filter((setup) => setup.kind === "ready" && "freezer" in setup.uses).map((setup) => setup.machine));
  const press = (kind: "gone" | "out" | "not-in", of: string) => {
    mishap({ kind, of });
    onClose();
  };
  return (
    <SheetDialog open onOpenChange={(open) => !open && onClose()} title="Something went otherwise" explanation="From now on; the rest of the day is planned anew and moves as little as it can.">
      <div className="flex flex-wrap gap-2">
        {Object.keys(shown.people).map((who) => (
          <Button key={who} onClick={() => press("gone", who)}>
            {who} is gone
          </Button>
        ))}
        {shown.machines.map((machine) => (
          <Button key={machine} onClick={() => press("out", machine)}>
            {machine} is out
          </Button>
        ))}
        {[...bowls].map((bowl) => (
          <Button key={bowl} onClick={() => press("not-in", bowl)}>
            {bowl} was not in the freezer
          </Button>
        ))}
      </div>
      <p className="mt-4 text-muted">A step takes longer? Choose it on the board or in the list, and press +5 or +15 min.</p>
    </SheetDialog>
  );
}
