import { Check } from "lucide-react";
import { Checkbox as Radix } from "radix-ui";
import { type ReactNode, useId } from "react";

type Props = { checked: boolean; onChange: (checked: boolean) => void; className?: string; tabIndex?: number };

/** A box that is ticked or not, with what it says beside it. */
export function Checkbox({ children, className = "", ...rest }: Props & { children: ReactNode }) {
  const id = useId();
  return (
    <span className={`flex items-center gap-2 ${className}`}>
      <Box id={id} {...rest} />
      <label htmlFor={id} className="min-w-0 flex-1">
        {children}
      </label>
    </span>
  );
}

/** A box alone, where what it is about stands elsewhere. */
export function Box({ checked, onChange, className = "size-6", ...rest }: Props & { id?: string; "aria-label"?: string }) {
  return (
    <Radix.Root
      checked={checked}
      onCheckedChange={(now) => onChange(now === true)}
      className={`grid shrink-0 place-items-center rounded border border-muted bg-panel text-ink ${className}`}
      {...rest}
    >
      <Radix.Indicator>
        <Check size={16} strokeWidth={3} aria-hidden />
      </Radix.Indicator>
    </Radix.Root>
  );
}
