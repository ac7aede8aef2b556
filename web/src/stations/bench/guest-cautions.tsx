import { Popover } from "radix-ui";

import type { Schemas } from "../../shared/api/client";
import { useKitchen } from "../../shared/api/kitchen";
import { useVocabulary } from "../../shared/api/vocabulary";

type Cautions = Schemas["CautionOut"][];

/** What guests must be told of the mix, in a few words; opened, each with its figure, its threshold and its source. */
export function GuestCautions({ cautions }: { cautions: Cautions }) {
  const shown = at(cautions, "bench");
  if (shown.length === 0) return null;
  return (
    <p className="text-sm">
      <span className="font-semibold text-hot">To tell guests:</span> {shown.map(({ short }) => short).join(", ")}.{" "}
      <Popover.Root>
        <Popover.Trigger aria-label="more of what guests must be told" className="text-muted underline hover:text-ink">
          more
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content aria-label="To tell guests" className="panel z-40 grid max-h-96 max-w-112 gap-2 overflow-y-auto p-3 text-sm shadow-lg" sideOffset={4} collisionPadding={8}>
            {shown.map((caution) => (
              <div key={caution.key}>
                <p>{caution.said}</p>
                {caution.label && <p>On a label: “{caution.label}”.</p>}
                <p className="text-muted">Source: {caution.source}.</p>
              </div>
            ))}
            <Deferring />
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </p>
  );
}

/** The same on paper. */
export function PrintedCautions({ cautions }: { cautions: Cautions }) {
  const shown = at(cautions, "sheet");
  if (shown.length === 0) return null;
  return (
    <section className="mt-3">
      <h2>To tell guests</h2>
      {shown.map((caution) => (
        <p key={caution.key}>
          {caution.said} <i>{caution.source}.</i>
        </p>
      ))}
      <Deferring />
    </section>
  );
}

function Deferring() {
  const { region } = useKitchen();
  const name = useVocabulary().regions.find(({ key }) => key === region)?.name;
  return <p className="text-muted">By rules of the {name}, as far as they are known here. Your local code and licensed practice go before it.</p>;
}

function at(cautions: Cautions, place: string): Cautions {
  return cautions.filter(({ places }) => places.includes(place));
}
