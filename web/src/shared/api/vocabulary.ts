import { createContext, useContext } from "react";

import type { Schemas } from "./client";

/** The words that all screens share; nothing is drawn behind the door before they have come. */
export const VocabularyContext = createContext<Schemas["Vocabulary"] | null>(null);

export function useVocabulary(): Schemas["Vocabulary"] {
  const words = useContext(VocabularyContext);
  if (!words) throw new Error("A screen was drawn without its vocabulary.");
  return words;
}
