import { Progress as RadixProgress } from "radix-ui";

/** How much of something long is done, from 0 to 1. */
export function Progress({ label, share }: { label: string; share: number }) {
  const percent = Math.round(share * 100);
  return (
    <RadixProgress.Root aria-label={label} value={percent} className="h-1.5 overflow-hidden rounded-full bg-steel">
      <RadixProgress.Indicator className="h-full bg-hot transition-[width] motion-reduce:transition-none" style={{ width: `${percent}%` }} />
    </RadixProgress.Root>
  );
}
