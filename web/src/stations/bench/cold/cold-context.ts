import { useMemo, useState } from "react";

import type { Schemas } from "../../../shared/api/client";
import { strictContext } from "../../../shared/strict-context";

/** How a run in the machine begins: from how warm a base, in what room, with how well frozen a bowl. */
export type RunConditions = Required<Pick<Schemas["RunQuestion"], "start_c" | "room_c" | "prefreeze_h">> &
  Pick<Schemas["RunQuestion"], "gel_frozen_pct" | "runs" | "programme" | "ice">;

/** Where a tub stands, for how long: first in the cold, then out of it; and how long the bowl took to empty before. */
export type Stays = { cold: Schemas["Stay"]; out: Schemas["Stay"]; back: boolean; emptying_min: number };

export type Vessel = Schemas["Shape"] & { name: string };

/** Tubs that every kitchen can get, beside its own. */
export const USUAL_VESSELS: readonly Vessel[] = [
  { name: "round tub, 0.8 L", shape: "cylinder", diameter_mm: 110, height_mm: 85, wall: "plastic", lid: true, wall_g: 0 },
  { name: "paper cup, 0.12 L", shape: "cylinder", diameter_mm: 65, height_mm: 36, wall: "paper", lid: true, wall_g: 0 },
  { name: "loaf tin, 1 L", shape: "box", length_mm: 200, width_mm: 95, height_mm: 55, wall: "steel", lid: false, wall_g: 0 },
  { name: "glass dish, 1.2 L", shape: "box", length_mm: 200, width_mm: 150, height_mm: 40, wall: "glass", lid: false, wall_g: 600 },
  { name: "display pan, 5 L", shape: "box", length_mm: 360, width_mm: 165, height_mm: 84, wall: "steel", lid: false, wall_g: 0 },
];

export type Face = "cold" | "time";

/** What of cold over time is looked at on the Bench: the same for the machine line, the second face and the dialogs. */
export type Cold = {
  conditions: RunConditions;
  setConditions: (change: Partial<RunConditions>) => void;
  stays: Stays;
  setStays: (change: Partial<Stays>) => void;
  vessel: Vessel;
  setVessel: (vessel: Vessel) => void;
  face: Face;
  setFace: (face: Face) => void;
};

export const [ColdContext, useCold] = strictContext<Cold>("cold");

const FRIDGE_COLD: RunConditions = { start_c: 4, room_c: 20, prefreeze_h: 24 };
const OVERNIGHT: Stays = {
  cold: { kind: "still-freezer", minutes: 900 },
  out: { kind: "room", minutes: 90 },
  back: false,
  emptying_min: 4,
};

export function useColdState(): Cold {
  const [conditions, setConditions] = useState(FRIDGE_COLD);
  const [stays, setStays] = useState(OVERNIGHT);
  const [vessel, setVessel] = useState(USUAL_VESSELS[0]!);
  const [face, setFace] = useState<Face>("cold");
  return useMemo(
    () => ({
      conditions,
      setConditions: (change) => setConditions((before) => ({ ...before, ...change })),
      stays,
      setStays: (change) => setStays((before) => ({ ...before, ...change })),
      vessel,
      setVessel,
      face,
      setFace,
    }),
    [conditions, stays, vessel, face],
  );
}
