import { type FormEvent, useId, useState } from "react";

import { Button } from "../../ui/button";
import { inputClass } from "../../ui/field";
import { localTime } from "./clock";
import { MakeProduct } from "./make-product";
import { ServiceDialog } from "./service-dialog";
import { usePlan } from "./use-plan";

/** What is to be ready when; more of it is typed in one line. */
export function Services() {
  const { plan, typeService, shown } = usePlan();
  const [typed, setTyped] = useState("");
  const [failed, setFailed] = useState<string | null>(null);
  const [opened, setOpened] = useState<string | null>(null);
  const id = useId();
  const late = new Map(shown?.services.map((one) => [one.product, one.late]));

  function add(event: FormEvent) {
    event.preventDefault();
    if (typed.trim() === "") return;
    setFailed(null);
    typeService(typed)
      .then(() => setTyped(""))
      .catch((error: Error) => setFailed(error.message));
  }

  return (
    <section className="panel grid content-start gap-2 p-4" aria-labelledby={`${id}-title`}>
      <h2 id={`${id}-title`} className="text-lg">
        To be ready
      </h2>
      <ul className="grid gap-1">
        {plan.services.map((service) => (
          <li key={service.id} className="grid grid-cols-[1fr_auto] items-baseline gap-x-3">
            <button type="button" className="text-left" onClick={() => setOpened(service.id)}>
              <b>{service.name}</b> <span className="whitespace-nowrap">{amountSaid(service)}</span>
            </button>
            <span className={late.get(service.id) ? "font-semibold text-hot" : "text-muted"}>
              {localTime(service.at)}
              {service.fresh ? ", fresh" : ""}
            </span>
            {plan.state === "started" && <MakeProduct product={service.id} name={service.name} />}
          </li>
        ))}
        {plan.from_file && <li className="text-muted">What the plan file asks for.</li>}
      </ul>
      {!plan.from_file && (
        <form onSubmit={add} className="grid gap-1">
          <label htmlFor={id} className="sr-only">
            Add what is to be ready
          </label>
          <div className="flex gap-2">
            <input
              id={id}
              className={inputClass}
              value={typed}
              maxLength={200}
              placeholder="2 L quince sorbet by 19:30, fresh"
              aria-invalid={failed !== null}
              aria-describedby={failed ? `${id}-failed` : undefined}
              onChange={(event) => setTyped(event.target.value)}
            />
            <Button type="submit">Add</Button>
          </div>
          {failed && (
            <p id={`${id}-failed`} role="alert" className="text-hot">
              {failed}
            </p>
          )}
        </form>
      )}
      {opened && <ServiceDialog key={opened} id={opened} onClose={() => setOpened(null)} />}
    </section>
  );
}

export function amountSaid({ amount, by }: { amount: string; by: string }): string {
  const units: Record<string, string> = { portions: "scoops", guests: "guests", tubs: "tubs" };
  const unit = units[by];
  return (unit ? `${amount} ${unit}` : amount.replace(/ l$/, " L")).replace(" ", "\u00a0");
}
