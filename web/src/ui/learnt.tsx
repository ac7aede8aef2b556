import { Popover } from "radix-ui";
import { Link } from "react-router";

import type { Schemas } from "../shared/api/client";

/** The badge of figures that go by what the kitchen has learnt; it opens to the reasons, and leads to where they are undone. */
export function Learnt({ marks }: { marks: Schemas["LearntMark"][] }) {
  if (marks.length === 0) return null;
  const most = Math.max(...marks.map(({ n }) => n));
  return (
    <Popover.Root>
      <Popover.Trigger className="rounded-button border border-band-edge px-1.5 text-sm hover:bg-steel">learned from {most}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content aria-label="What was learnt" className="panel z-40 grid max-w-88 gap-2 p-3 text-sm shadow-lg" sideOffset={4} collisionPadding={8}>
          {marks.map(({ key, said }) => (
            <p key={key}>{said}</p>
          ))}
          <Link to="/taste/learnt" className="underline">
            What it rests on; leave out, forget, pin
          </Link>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
