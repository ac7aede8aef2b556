import { useRef } from "react";

import { once } from "./client";

/**
 * A key for what is to be done once: it stays the same while the same is asked, so that pressing again after an
 * answer that was lost does not do it again.
 */
export function useOnce(): (asked: unknown) => ReturnType<typeof once> {
  const last = useRef({ written: "", key: "" });
  return (asked) => {
    const written = JSON.stringify(asked) ?? "";
    if (last.current.key === "" || last.current.written !== written) last.current = { written, key: crypto.randomUUID() };
    return once(last.current.key);
  };
}
