import type { ComponentProps } from "react";

const KINDS = {
  hot: "bg-hot text-hot-ink font-semibold text-xl",
  plain: "border border-line bg-panel text-ink text-lg font-semibold",
  on: "border-2 border-ink bg-panel text-ink text-lg font-semibold",
} as const;

/** A button for wet hands. */
export function BigButton({ kind = "plain", className = "", ...rest }: ComponentProps<"button"> & { kind?: keyof typeof KINDS }) {
  return <button type="button" className={`min-h-16 rounded-button px-5 disabled:opacity-60 ${KINDS[kind]} ${className}`} {...rest} />;
}
