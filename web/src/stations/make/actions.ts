import type { Said } from "./presses";
import { isRunning, type State, type Step } from "./replay";

/** What is pressed when something begins that takes its time, and when it is over. */
const TAKES_TIME: Record<string, [string, string]> = {
  prefreeze: ["It is in the freezer", "It is frozen through"],
  steep: ["It steeps now", "Take it out"],
  "prepare-steep": ["It steeps", "Strained"],
  "prepare-reduce": ["It boils", "Reduced"],
  "prepare-macerate": ["It stands in the fridge", "Ready"],
  cool: ["It cools now", "It is cold"],
  age: ["It is in the fridge", "Taken out"],
  precool: ["It is on", "It is cold"],
  churn: ["It runs", "It is out"],
  shake: ["Shaking", "It is out"],
  scrape: ["It is in the freezer", "All flakes"],
  harden: ["It is in the freezer", "It is hard"],
  temper: ["It is in the fridge", "Served"],
};
const DONE: Record<string, string> = {
  hands: "Clean",
  tubs: "They are in",
  thermometer: "Checked",
  ice: "To hand",
  bath: "Ready",
  clean: "Clean",
  cook: "Off the heat",
  scald: "Off the heat",
  syrup: "Off the heat",
  boil: "Off the heat",
  strain: "Strained",
  "off-heat": "They are in",
  cold: "They are in",
  taste: "It tastes right",
  pack: "Packed",
  yolks: "They are in",
  rouse: "Stirred",
  load: "Loaded",
  sieve: "Sieved",
  cocoa: "It is smooth",
  slurry: "It is in",
  gelatin: "Melted in",
  melt: "Melted in",
  stir: "Smooth",
  whip: "Whipped",
  fold: "Folded in",
  chill: "It is cold",
  "bowl-out": "It is set up",
  serve: "Served",
  wash: "Washed",
  "look-through": "Looked through",
};
/** What goes on by itself while other work is done. */
const MEANWHILE = new Set(["prefreeze", "prepare-steep", "prepare-macerate", "precool"]);

export type Action = { label: string; said: Said[]; staysHere: boolean };

/** The one thing to press at a step that is not weighed. */
export function actionOf(step: Step, state: State): Action {
  const takesTime = TAKES_TIME[step.kind] ?? (step.least_min ? (["It is hot enough", DONE[step.kind] ?? "Done"] as const) : null);
  if (takesTime && !isRunning(step, state)) {
    return { label: takesTime[0], said: [{ kind: "began", step: step.id }], staysHere: !MEANWHILE.has(step.kind) };
  }
  const label = takesTime ? takesTime[1] : (DONE[step.kind] ?? "Done");
  return { label, said: [{ kind: "done", step: step.id }], staysHere: false };
}
