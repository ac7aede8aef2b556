import { useKitchen } from "../../shared/api/kitchen";
import { allergenSentence, costSentence, placesSentence } from "../../shared/format/sentences";
import { useUnits } from "../../shared/format/units";
import { Learnt } from "../../ui/learnt";
import { Why } from "../../ui/why";
import { GuestCautions } from "./guest-cautions";
import { useBenchActions, useReading } from "./bench-context";
import { MachineFill } from "./size/machine-fill";

/** What a cook would say of the mix, and beside it the machine that it must fit. */
export function Verdict() {
  const { reading, analysis } = useReading();
  const { ask } = useBenchActions();
  const { currency } = useKitchen();
  const units = useUnits();
  return (
    <section aria-label="Verdict" className="panel flex flex-wrap items-center gap-x-6 gap-y-2 px-4 py-1.5">
      <div className="min-w-0 flex-1 basis-80">
        <div>
          <p aria-live="polite" className="inline font-name text-xl font-bold tracking-tight" data-verdict>
            {analysis?.verdict ?? "Nothing in it yet."}
          </p>
          {analysis && (
            <>
              {" "}
              <Why of="scoop" /> <Learnt marks={analysis.learnt} />
            </>
          )}
        </div>
        {analysis && (
          <p className="text-sm text-muted">
            {placesSentence(analysis.places, units)} <Why of="cabinet" />
          </p>
        )}
        {reading && (
          <p className="text-sm text-muted">
            {allergenSentence(reading)}{" "}
            {reading.cost && (
              <button type="button" className="underline decoration-line underline-offset-3 hover:decoration-current" onClick={() => ask({ what: "cost" })}>
                {costSentence(reading.cost, currency, units)}
              </button>
            )}{" "}
            {reading.cost && <Why of="cost" />}
          </p>
        )}
        {reading && <GuestCautions cautions={reading.guestCautions} />}
        {analysis?.cautions.map((caution) => (
          <p key={caution} className="text-sm text-muted">
            {caution}
          </p>
        ))}
      </div>
      <MachineFill />
    </section>
  );
}
