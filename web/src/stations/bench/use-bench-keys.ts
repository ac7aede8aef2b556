import { useEffect } from "react";

import { useBalance } from "./balance/use-balance";
import { useBenchActions, useSelection } from "./bench-context";
import { VIEWS } from "./lines/view";

/** The keys of the Bench, by what they mean: those of a line hold for the one typed in, or else pointed at. */
export function useBenchKeys(): void {
  const actions = useBenchActions();
  const { pointed, view } = useSelection();
  const { show: balance } = useBalance();
  useEffect(() => {
    const { edit, ask } = actions;
    const ofMix: Record<string, () => void> = {
      "/": () => document.getElementById("add-line")?.focus(),
      "?": () => ask({ what: "keys" }),
      s: () => ask({ what: "scale" }),
      f: () => ask({ what: "run" }),
      t: () => ask({ what: "table" }),
      k: () => ask({ what: "revisions" }),
      n: actions.toggleNotes,
      b: balance,
      m: actions.make,
      v: () => actions.setView(VIEWS[(VIEWS.findIndex(({ key }) => key === view) + 1) % VIEWS.length]!.key),
    };
    const ofLine: Record<string, (key: string) => void> = {
      p: (key) => edit({ kind: "pin", keys: [key] }),
      l: (key) => ask({ what: "look", key }),
      r: (key) => ask({ what: "replace", key }),
      x: actions.choose,
    };
    const meant = (event: KeyboardEvent): (() => void) | undefined => {
      const target = event.target instanceof HTMLElement ? event.target : null;
      if (target?.closest("[role=dialog], [role=menu], [role=listbox], aside")) return undefined;
      const command = event.ctrlKey || event.metaKey;
      if (command && event.key.toLowerCase() === "z") return () => edit({ kind: event.shiftKey ? "redo" : "undo" });
      const line = target?.dataset.amount ?? pointed;
      const letter = event.code.startsWith("Key") ? event.code.slice(3).toLowerCase() : "";
      const typing = target?.closest("input, textarea, select") !== null && target !== null;
      if (command || (typing && !event.altKey)) return undefined;
      const act = ofLine[event.altKey ? letter : event.key.toLowerCase()];
      if (act && line) return () => act(line);
      return event.altKey ? undefined : ofMix[event.key.toLowerCase()];
    };
    const keys = (event: KeyboardEvent) => {
      const act = meant(event);
      if (!act) return;
      event.preventDefault();
      act();
    };
    window.addEventListener("keydown", keys);
    return () => window.removeEventListener("keydown", keys);
  }, [actions, pointed, view, balance]);
}
