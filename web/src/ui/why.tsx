import { Popover } from "radix-ui";

import { useVocabulary } from "../shared/api/vocabulary";

/** Opens how a number is worked out, what that rests on, and the function of the core that does it. */
export function Why({ of }: { of: string }) {
  const found = useVocabulary().explanations.find(({ key }) => key === of);
  if (!found) return null;
  return (
    <Popover.Root>
      <Popover.Trigger aria-label={`why ${found.name}`} className="text-sm text-muted underline hover:text-ink">
        why
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content aria-label={found.name} className="panel z-40 grid max-w-88 gap-1 p-3 text-sm shadow-lg" sideOffset={4} collisionPadding={8}>
          <b>{found.name}</b>
          <p>{found.formula}.</p>
          <p className="text-muted">Source: {found.source}.</p>
          <p className="text-muted">
            Function <code className="break-all">{found.rule}</code>
          </p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
