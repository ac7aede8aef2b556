import type { ComponentProps } from "react";

const KINDS = {
  hot: "bg-hot text-hot-ink hover:brightness-110 font-semibold",
  dark: "bg-rail text-white hover:brightness-125 font-semibold",
  plain: "border border-line bg-panel text-ink hover:border-muted",
  quiet: "text-muted hover:bg-steel hover:text-ink",
} as const;

export type ButtonKind = keyof typeof KINDS;

export function buttonClass(kind: ButtonKind = "plain"): string {
  return `inline-flex items-center justify-center gap-2 rounded-button px-3.5 py-1.5 min-h-9 whitespace-nowrap disabled:opacity-50 ${KINDS[kind]}`;
}

export function Button({ kind = "plain", className = "", ...rest }: ComponentProps<"button"> & { kind?: ButtonKind }) {
  return <button type="button" className={`${buttonClass(kind)} ${className}`} {...rest} />;
}

/** A key as it is written on a keyboard. */
export function Key({ children }: { children: string }) {
  return (
    <kbd className="rounded border border-current px-1.5 text-xs leading-4 font-sans not-on-paper max-md:hidden">{children}</kbd>
  );
}
