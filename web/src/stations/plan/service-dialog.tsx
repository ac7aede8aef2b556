import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { lotsQuery } from "../../shared/api/queries";
import { Button } from "../../ui/button";
import { Checkbox } from "../../ui/checkbox";
import { Field } from "../../ui/field";
import { Select } from "../../ui/select";
import { SheetDialog } from "../../ui/sheet-dialog";
import { usePlan } from "./use-plan";

/** One service: how much, when, fresh or scooped, from which base, or out of the plan. */
export function ServiceDialog({ id, onClose }: { id: string; onClose: () => void }) {
  const { plan, change } = usePlan();
  const service = plan.services.find((one) => one.id === id);
  const lots = useQuery(lotsQuery);
  const [amount, setAmount] = useState(service?.amount ?? "");
  const [at, setAt] = useState(service?.at.slice(0, 16) ?? "");
  const [fresh, setFresh] = useState(service?.fresh ?? false);
  const [lot, setLot] = useState(String(service?.lot ?? ""));
  const [base, setBase] = useState(service?.base ?? "");
  const [failed, setFailed] = useState<string | null>(null);
  if (!service) return null;
  const bases = (lots.data ?? []).filter((one) => one.batch !== null && one.ingredient === null && one.name.startsWith(service.name));

  function keep(services: typeof plan.services) {
    change({ services }, false)
      .then(onClose)
      .catch((error: Error) => setFailed(error.message));
  }

  const changed = { ...service, amount, at, fresh, lot: lot === "" ? null : Number(lot), base };
  return (
    <SheetDialog open onOpenChange={(open) => !open && onClose()} title={service.name}>
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          keep(plan.services.map((one) => (one.id === id ? changed : one)));
        }}
      >
        <Field label="How much" value={amount} required maxLength={60} onChange={(event) => setAmount(event.target.value)} />
        <Field label="Served" type="datetime-local" value={at} required onChange={(event) => setAt(event.target.value)} />
        <Checkbox checked={fresh} onChange={setFresh}>
          Fresh and soft from the machine, within two hours
        </Checkbox>
        {bases.length > 0 && (
          <Select
            label="Churned from"
            value={lot}
            options={[{ key: "", name: "a base made for it" }, ...bases.map((one) => ({ key: String(one.id), name: `${one.name}${one.state ? `, ${one.state}` : ""}` }))]}
            onChange={setLot}
          />
        )}
        <Field label="Base that it shares with others" value={base} maxLength={60} placeholder="white base, for one: made once, split by weight" onChange={(event) => setBase(event.target.value)} />
        {failed && (
          <p role="alert" className="text-hot">
            {failed}
          </p>
        )}
        <div className="flex flex-wrap gap-2">
          <Button type="submit" kind="hot">
            Keep
          </Button>
          <Button className="ml-auto" onClick={() => keep(plan.services.filter((one) => one.id !== id))}>
            Take it out of the plan
          </Button>
        </div>
      </form>
    </SheetDialog>
  );
}
