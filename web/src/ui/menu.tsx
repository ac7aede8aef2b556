import { Check } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";

import { buttonClass } from "./button";

/** A menu that opens from a button; its items are MenuItem. */
export function Menu({ trigger, label, children, plain = false }: { trigger: ReactNode; label: string; children: ReactNode; plain?: boolean }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={label}
        className={
          plain
            ? buttonClass("plain")
            : "inline-grid size-7 place-items-center rounded-button text-muted hover:bg-steel hover:text-ink data-[state=open]:bg-steel"
        }
      >
        {trigger}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="start" className="panel z-30 max-h-(--radix-dropdown-menu-content-available-height) min-w-48 overflow-y-auto p-1.5 shadow-lg" collisionPadding={8}>
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** An item that is on or off; the menu stays open for the next one. */
export function MenuCheck({ children, checked, onChange }: { children: ReactNode; checked: boolean; onChange: (checked: boolean) => void }) {
  return (
    <DropdownMenu.CheckboxItem
      checked={checked}
      onCheckedChange={onChange}
      onSelect={(event) => event.preventDefault()}
      className="flex items-center gap-2 rounded-button py-1.5 pr-2.5 pl-8 outline-none data-[highlighted]:bg-steel"
    >
      <DropdownMenu.ItemIndicator className="absolute -ml-6">
        <Check size={16} aria-hidden />
      </DropdownMenu.ItemIndicator>
      {children}
    </DropdownMenu.CheckboxItem>
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
