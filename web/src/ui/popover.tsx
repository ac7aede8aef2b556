import { Popover as Radix } from "radix-ui";
import type { ReactNode } from "react";

/** A few choices that open from a small button and stay open while they are made. */
export function Popover({ label, trigger, children }: { label: string; trigger: ReactNode; children: ReactNode }) {
  return (
    <Radix.Root>
      <Radix.Trigger aria-label={label} className="inline-grid size-7 place-items-center rounded-button text-muted hover:bg-steel hover:text-ink data-[state=open]:bg-steel">
        {trigger}
      </Radix.Trigger>
      <Radix.Portal>
        <Radix.Content aria-label={label} align="end" sideOffset={4} collisionPadding={8} className="panel z-30 p-3.5 shadow-lg">
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
