import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";

import { useKitchen } from "../../shared/api/kitchen";
import { answer, api, asForm } from "../../shared/api/client";
import { plansQuery } from "../../shared/api/queries";
import { useOnce } from "../../shared/api/use-once";
import { Button } from "../../ui/button";
import { FileField } from "../../ui/file-field";
import { StationHead } from "../../ui/frame";
import { Waiting } from "../../ui/waiting";
import { localTime } from "./clock";

/** The kitchen's plans, and a new one by one press. */
export function Plans() {
  const { zone } = useKitchen();
  const plans = useQuery({ ...plansQuery, refetchOnMount: "always" });
  const client = useQueryClient();
  const navigate = useNavigate();
  const once = useOnce();
  const made = async ({ id }: { id: number }) => {
    await client.invalidateQueries({ queryKey: ["plans"] });
    await navigate(`/plan/${id}`);
  };
  const begin = useMutation({
    mutationFn: () => {
      const body = { name: nameOfToday(zone), zone };
      return answer(api.POST("/plans", { body, ...once(body) }));
    },
    onSuccess: made,
  });
  const bring = useMutation({ mutationFn: (file: File) => answer(api.POST("/plan-files", asForm(file))), onSuccess: made });
  return (
    <>
      <StationHead title="Plan">
        <FileField label="A plan file" accept=".json" choose={(file) => file && bring.mutate(file)} />
        <Button kind="hot" onClick={() => begin.mutate()} disabled={begin.isPending}>
          New plan
        </Button>
      </StationHead>
      {bring.error && (
        <p role="alert" className="px-4 pb-2 text-hot">
          {bring.error.message}
        </p>
      )}
      <Waiting query={plans}>
        {(found) =>
          found.length === 0 ? (
            <p className="panel mx-4 max-w-xl p-6">
              No plan yet. Begin one and say what is to be ready when, such as “2 L quince sorbet by 19:30, fresh”: it is planned back from there. Who is there when stands under{" "}
              <Link to="/kitchen/hours" className="underline">
                Kitchen, The working day
              </Link>
              .
            </p>
          ) : (
            <ul className="grid gap-3 px-4 pb-6">
              {found.map((plan) => (
                <li key={plan.id} className="panel relative flex flex-wrap items-baseline gap-x-4 p-4 hover:border-muted">
                  <h2 className="text-lg">
                    <Link to={`/plan/${plan.id}`} className="after:absolute after:inset-0">
                      {plan.name}
                    </Link>
                  </h2>
                  <span className="text-muted">
                    {plan.count} to be ready{plan.first ? `, the first ${localTime(plan.first)}` : ""}
                  </span>
                  <b className="ml-auto">{plan.state === "started" ? "Started" : ""}</b>
                </li>
              ))}
            </ul>
          )
        }
      </Waiting>
    </>
  );
}

function nameOfToday(timeZone: string): string {
  return new Intl.DateTimeFormat("en-GB", { weekday: "long", day: "numeric", month: "long", timeZone }).format(new Date());
}
