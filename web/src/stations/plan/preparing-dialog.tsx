import { useQuery } from "@tanstack/react-query";

import { answer, api } from "../../shared/api/client";
import { listed } from "../../shared/format/numbers";
import { useUnits } from "../../shared/format/units";
import { SheetDialog } from "../../ui/sheet-dialog";
import { Waiting } from "../../ui/waiting";

/** Mise en place: what is short first, then what goes into the freezer, ice and salt, and what is weighed. */
export function PreparingDialog({ id, onClose }: { id: number; onClose: () => void }) {
  const units = useUnits();
  const found = useQuery({
    queryKey: ["plan", id, "preparation"],
    queryFn: () => answer(api.GET("/plans/{plan_id}/preparation", { params: { path: { plan_id: id } } })),
    staleTime: 0,
  });
  return (
    <SheetDialog open onOpenChange={(open) => !open && onClose()} title="Get ready" wide>
      <Waiting query={found}>
        {({ needed, freezer, ice, made, weighed }) => {
          const short = needed.filter((one) => one.short_g >= 0.5);
          return (
            <div className="grid gap-4">
              <section>
                <h3>{short.length === 0 ? "Everything is in the house" : "Short"}</h3>
                <ul className="mt-1 grid gap-0.5">
                  {short.map((one) => (
                    <li key={one.slug}>
                      <b>{units.mass(one.short_g)} {one.name}</b>{" "}
                      <span className="text-muted">
                        {one.there_g > 0 ? `of ${units.mass(one.needed_g)}, ${units.mass(one.there_g)} there` : "none in the house"}
                      </span>
                    </li>
                  ))}
                </ul>
              </section>
              {freezer.length > 0 && (
                <p>
                  <b>Into the freezer:</b> {listed(freezer)}.
                </p>
              )}
              {made.length > 0 && (
                <p>
                  <b>To make first:</b> {listed(made)}.
                </p>
              )}
              {ice.length > 0 && (
                <p>
                  <b>To get:</b> {listed(ice)}. Salt ice freezes skin: wear gloves.
                </p>
              )}
              {weighed.map((one) => (
                <section key={one.service}>
                  <h3>Weigh for {one.name}</h3>
                  <p>{one.lines.join(" · ")}</p>
                </section>
              ))}
            </div>
          );
        }}
      </Waiting>
    </SheetDialog>
  );
}
