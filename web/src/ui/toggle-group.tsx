import { ToggleGroup as Radix } from "radix-ui";

import type { Option } from "./select";

const ITEM = "rounded-button px-1.5 data-[state=on]:bg-steel data-[state=on]:font-semibold data-[state=on]:text-ink";
const CHIP = "min-h-7 rounded-button border border-line px-2 text-sm data-[state=on]:border-ink data-[state=on]:bg-ink data-[state=on]:text-panel";

/** One of a few ways to see the same. */
export function ToggleGroup(props: { label: string; value: string; options: readonly Option[]; onChange: (key: string) => void; className?: string }) {
  return (
    <Radix.Root type="single" aria-label={props.label} value={props.value} onValueChange={(key) => key && props.onChange(key)} className={`flex gap-0.5 ${props.className ?? ""}`}>
      {props.options.map(({ key, name }) => (
        <Radix.Item key={key} value={key} className={ITEM}>
          {name}
        </Radix.Item>
      ))}
    </Radix.Root>
  );
}

/** Any of some marks, each on or off. */
export function ToggleChips(props: { label: string; on: readonly string[]; options: readonly Option[]; onChange: (on: string[]) => void }) {
  return (
    <Radix.Root type="multiple" aria-label={props.label} value={[...props.on]} onValueChange={props.onChange} className="flex flex-wrap gap-1">
      {props.options.map(({ key, name }) => (
        <Radix.Item key={key} value={key} className={CHIP}>
          {name}
        </Radix.Item>
      ))}
    </Radix.Root>
  );
}
