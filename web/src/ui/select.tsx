import { Check, ChevronDown } from "lucide-react";
import { getNonce } from "get-nonce";
import { Select as Radix } from "radix-ui";
import { useId } from "react";

import { faulty, inputClass, Labelled } from "./field";

export type Option = { key: string; name: string };

type Props = {
  label: string;
  hideLabel?: boolean;
  value: string;
  options: readonly Option[];
  onChange: (key: string) => void;
  error?: string | undefined;
  /** How it looks, where it is not a field among fields. */
  className?: string;
  /** What stands there while nothing is chosen. */
  placeholder?: string;
};

/** Radix takes an empty value for “nothing chosen”; here it is a choice like any other. */
const value = (key: string) => `=${key}`;

/** A labelled choice of one from a short list. */
export function Select(props: Props) {
  const id = useId();
  const known = props.options.some(({ key }) => key === props.value);
  return (
    <Labelled id={id} label={props.label} hideLabel={props.hideLabel ?? false} error={props.error}>
      <Radix.Root value={known ? value(props.value) : ""} onValueChange={(chosen) => props.onChange(chosen.slice(1))}>
        <Radix.Trigger
          id={id}
          {...faulty(id, props.error)}
          className={`flex items-center gap-2 text-left ${props.className ?? inputClass} data-[placeholder]:text-muted`}
        >
          <span className="min-w-0 flex-1 truncate">
            <Radix.Value placeholder={props.placeholder} />
          </span>
          <Radix.Icon className="shrink-0 text-muted">
            <ChevronDown size={14} aria-hidden />
          </Radix.Icon>
        </Radix.Trigger>
        <Radix.Portal>
          <Radix.Content position="popper" sideOffset={4} collisionPadding={8} className="panel z-50 max-h-(--radix-select-content-available-height) min-w-(--radix-select-trigger-width) overflow-hidden p-1 shadow-lg">
            <Radix.Viewport nonce={getNonce()}>
              {props.options.map((option) => (
                <Radix.Item
                  key={option.key}
                  value={value(option.key)}
                  className="flex cursor-default items-center gap-2 rounded-button py-1.5 pr-2.5 pl-7 outline-none data-[highlighted]:bg-steel"
                >
                  <Radix.ItemIndicator className="absolute -ml-5">
                    <Check size={14} aria-hidden />
                  </Radix.ItemIndicator>
                  <Radix.ItemText>{option.name}</Radix.ItemText>
                </Radix.Item>
              ))}
            </Radix.Viewport>
          </Radix.Content>
        </Radix.Portal>
      </Radix.Root>
    </Labelled>
  );
}
