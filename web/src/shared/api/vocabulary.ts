import { strictContext } from "../strict-context";
import type { Schemas } from "./client";

/** The words that all screens share; nothing is drawn behind the door before they have come. */
export const [VocabularyContext, useVocabulary] = strictContext<Schemas["Vocabulary"]>("vocabulary");
