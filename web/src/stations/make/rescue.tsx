import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import type { Schemas } from "../../shared/api/client";
import { rescuesQuery } from "../../shared/api/queries";
import { unbroken } from "../../shared/format/numbers";
import { SheetDialog } from "../../ui/sheet-dialog";
import { Waiting } from "../../ui/waiting";
import { BigButton } from "./big-button";
import type { Step } from "./replay";
import { useWork } from "./use-making";

type Rescue = Schemas["RescueOut"];

/** Something goes wrong: which, and then at once what to do in the next two minutes. */
export function RescueDialog({ step, open, onClose }: { step: Step; open: boolean; onClose: () => void }) {
  const [chosen, setChosen] = useState<Rescue | null>(null);
  function close() {
    setChosen(null);
    onClose();
  }
  return (
    <SheetDialog open={open} onOpenChange={close} title={chosen ? chosen.name : "What goes wrong?"} wide>
      {chosen ? <Now rescue={chosen} done={close} /> : <Which step={step} choose={setChosen} />}
    </SheetDialog>
  );
}

function Which({ step, choose }: { step: Step; choose: (rescue: Rescue) => void }) {
  const { making, press } = useWork();
  const found = useQuery(rescuesQuery(making.id, step.id));
  return (
    <Waiting query={found}>
      {(rescues) => (
        <div className="grid gap-2 sm:grid-cols-2">
          {rescues.map((one) => (
            <BigButton
              key={one.key}
              kind={one.here ? "on" : "plain"}
              className="text-left"
              onClick={() => {
                press({ kind: "otherwise", step: step.id, text: one.name });
                choose(one);
              }}
            >
              {one.name}
            </BigButton>
          ))}
        </div>
      )}
    </Waiting>
  );
}

/** The next two minutes, and when it is thrown away; that it went wrong is noted in the batch already. */
function Now({ rescue, done }: { rescue: Rescue; done: () => void }) {
  const { press, making } = useWork();
  return (
    <div className="grid gap-4 text-lg">
      <ol className="grid list-decimal gap-2 pl-6 text-xl">
        {rescue.now.map((sentence) => (
          <li key={sentence}>{unbroken(sentence)}</li>
        ))}
      </ol>
      {rescue.others.length > 0 && (
        <div className="grid gap-2">
          <h3>In another machine</h3>
          {rescue.others.map((other) => (
            <div key={other.id} className="flex flex-wrap items-center gap-x-4 gap-y-1">
              <span className="min-w-48 flex-1">
                <b>{other.name}</b>
                {other.runs > 1 ? `, ${other.runs} runs` : ""}: {unbroken(other.said)}
              </span>
              <BigButton
                onClick={() => {
                  press({ kind: "chose", step: "machine", text: String(other.id) });
                  done();
                }}
                disabled={other.id === making.machine}
              >
                Take it
              </BigButton>
            </div>
          ))}
        </div>
      )}
      <p className="border-l-4 border-hot pl-3">
        <b>Thrown away:</b> {unbroken(rescue.throw)}
      </p>
      <p className="text-muted">It is noted in the batch that this happened. Guidance; your local food code and whoever is licensed go before it.</p>
      <BigButton kind="hot" onClick={done}>
        Back to the work
      </BigButton>
    </div>
  );
}
