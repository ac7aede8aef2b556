import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { pressesOfOthers, takeOver } from "../../shared/device-store";
import { Button } from "../../ui/button";
import { sendPresses, waitingPresses } from "./presses";

/** Presses that somebody else made on this device and that were not sent: they wait for them, or are sent knowingly by another. */
export function PressesOfOthers() {
  const client = useQueryClient();
  const [others, setOthers] = useState(pressesOfOthers);

  async function send(keys: string[]) {
    takeOver(keys);
    setOthers(pressesOfOthers());
    for (const batch of new Set(waitingPresses().map((press) => press.batch))) await sendPresses(batch).catch(() => null);
    await client.invalidateQueries({ queryKey: ["making"] });
  }

  return others.map(({ person, name, keys }) => (
    <section key={person} aria-label={`Presses of ${name}`} className="panel grid gap-2 border-2 border-hot p-4">
      <p>
        <b>
          {keys.length === 1 ? "1 press" : `${keys.length} presses`} of {name} {keys.length === 1 ? "waits" : "wait"} on this device.
        </b>{" "}
        {keys.length === 1 ? "It is" : "They are"} sent when {name} signs in here. If you send {keys.length === 1 ? "it" : "them"}, the record names you.
      </p>
      <Button className="min-h-14 justify-self-start" onClick={() => void send(keys)}>
        Send {keys.length === 1 ? "it" : "them"} as mine
      </Button>
    </section>
  ));
}
