import { useCallback, useState } from "react";

import type { Units } from "../../../shared/format/units";

/** In what the amounts are read; grams are what is kept. */
export const VIEWS = [
  { key: "typed", name: "as typed" },
  { key: "percent", name: "per cent" },
  { key: "kilo", name: "per kg" },
  { key: "cups", name: "cups" },
] as const;

export type View = (typeof VIEWS)[number]["key"];

const PLACE = "jalebi.view";

/** The view that this browser used last. */
export function useView(): [View, (view: View) => void] {
  const [view, setView] = useState<View>(() => VIEWS.find(({ key }) => key === localStorage.getItem(PLACE))?.key ?? "typed");
  const choose = useCallback((now: View) => {
    localStorage.setItem(PLACE, now);
    setView(now);
  }, []);
  return [view, choose];
}

/** A line's amount in a view, null where what was typed is shown. */
export function inView(view: View, grams: number | null, measure: string | null, massG: number | null, units: Units): string | null {
  if (view === "typed" || grams === null || !massG) return null;
  if (view === "cups") return measure;
  const share = grams / massG;
  return view === "percent" ? `${fine(100 * share, units)} %` : `${fine(1000 * share, units)} g`;
}

function fine(value: number, units: Units): string {
  return units.number(value, value < 1 ? 2 : value < 100 ? 1 : 0);
}
