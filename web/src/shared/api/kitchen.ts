import { strictContext } from "../strict-context";
import type { Schemas } from "./client";

/** The kitchen that this page is in, with its settings; nothing is drawn behind the door before they have come. */
export const [KitchenContext, useKitchen] = strictContext<Schemas["KitchenOut"]>("kitchen");
