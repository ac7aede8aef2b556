import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";

/** A menu that opens from a button; its items are MenuItem. */
export function Menu({ trigger, label, children }: { trigger: ReactNode; label: string; children: ReactNode }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={label}
        className="inline-grid size-7 place-items-center rounded-button text-muted hover:bg-steel hover:text-ink data-[state=open]:bg-steel"
      >
        {trigger}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" className="panel z-30 min-w-48 p-1.5 shadow-lg" collisionPadding={8}>
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

export function MenuItem({ children, onSelect, disabled = false }: { children: ReactNode; onSelect: () => void; disabled?: boolean }) {
  return (
    <DropdownMenu.Item
      disabled={disabled}
      onSelect={onSelect}
      className="flex items-center justify-between gap-6 rounded-button px-2.5 py-1.5 outline-none data-[disabled]:opacity-40 data-[highlighted]:bg-steel"
    >
      {children}
    </DropdownMenu.Item>
  );
}

export function MenuLine({ children }: { children?: ReactNode }) {
  return children ? (
    <DropdownMenu.Label className="px-2.5 pt-2 pb-1 text-sm text-muted">{children}</DropdownMenu.Label>
  ) : (
    <DropdownMenu.Separator className="my-1 h-px bg-line" />
  );
}
