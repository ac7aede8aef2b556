import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { useKitchen } from "../shared/api/kitchen";
import { useKitchenSettings } from "../shared/api/use-kitchen-settings";
import { Button } from "./button";

const LEFT = "jalebi.zone-left";

/** Asked once on a browser whose clock is not the kitchen's: its days go by one zone, and somebody must say which. */
export function ZoneQuestion() {
  const kitchen = useKitchen();
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  const question = `${kitchen.slug} ${kitchen.zone} ${here}`;
  const [left, setLeft] = useState(() => localStorage.getItem(LEFT));
  const client = useQueryClient();
  const settings = useKitchenSettings(() => client.invalidateQueries());
  if (left === question || wallClock(here) === wallClock(kitchen.zone)) return null;

  function leave() {
    localStorage.setItem(LEFT, question);
    setLeft(question);
  }

  return (
    <section aria-label="Time zone" className="not-on-paper flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-line bg-steel px-4 py-2">
      <p className="mr-auto">
        {kitchen.name} goes by the clock of {placeOf(kitchen.zone)}, this browser by that of {placeOf(here)}. Days and use-by dates follow the kitchen’s.
      </p>
      <Button kind="dark" disabled={settings.isPending} onClick={() => settings.mutate({ zone: here })}>
        The kitchen is in {placeOf(here)}
      </Button>
      <Button onClick={leave}>Leave it</Button>
      {settings.error && <p role="alert">{settings.error.message}</p>}
    </section>
  );
}

function wallClock(timeZone: string): string {
  return new Intl.DateTimeFormat("sv-SE", { dateStyle: "short", timeStyle: "short", timeZone }).format(new Date());
}

/** A zone as it is spoken of: “Europe/Vienna” is Vienna. */
function placeOf(zone: string): string {
  return zone.slice(zone.lastIndexOf("/") + 1).replaceAll("_", " ");
}
