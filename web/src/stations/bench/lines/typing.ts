import type { KeyboardEvent } from "react";

import type { Edit } from "../draft/draft";

/** What a field does whose text counts while it is typed: done on leaving it or Enter, taken back with Escape. */
export function typing(edit: (edit: Edit) => void) {
  return {
    onBlur: () => edit({ kind: "done" }),
    onKeyDown: (event: KeyboardEvent) => {
      if (event.key === "Enter") edit({ kind: "done" });
      if (event.key === "Escape") edit({ kind: "retract" });
    },
  };
}
