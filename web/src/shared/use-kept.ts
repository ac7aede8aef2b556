import { useState } from "react";

/** What is typed over something that is kept: it begins as that, and is that again whenever something else is kept. */
export function useKept(kept: string): [string, (typed: string) => void] {
  const [field, setField] = useState({ kept, typed: kept });
  if (field.kept !== kept) setField({ kept, typed: kept });
  return [field.kept === kept ? field.typed : kept, (typed) => setField({ kept, typed })];
}
