import { useQuery } from "@tanstack/react-query";
import { Navigate, Route, Routes } from "react-router";

import { Problem } from "./shared/api/client";
import { meQuery, vocabularyQuery } from "./shared/api/queries";
import { VocabularyContext } from "./shared/api/vocabulary";
import { BatchSheet } from "./stations/batches/batch-sheet";
import { Batches } from "./stations/batches/batches";
import { Bench } from "./stations/bench/bench";
import { Mixes } from "./stations/bench/mixes/mixes";
import { PasteRecipe } from "./stations/bench/paste/paste-recipe";
import { EditPreparation, NewPreparation } from "./stations/shelf/preparation/preparation";
import { Shelf } from "./stations/shelf/shelf";
import { SignIn } from "./stations/sign-in/sign-in";
import { Frame } from "./ui/frame";
import { Waiting } from "./ui/waiting";

/** Nobody gets past the door; behind it every station has an address of its own. */
export function App() {
  const me = useQuery(meQuery);
  const vocabulary = useQuery({ ...vocabularyQuery, enabled: me.data !== undefined });
  if (me.error instanceof Problem && me.error.status === 401) return <SignIn />;
  return (
    <Waiting query={me}>
      {(person) => (
        <Waiting query={vocabulary}>
          {(words) => (
            <VocabularyContext value={words}>
              <Frame me={person}>
                <Routes>
                  <Route path="/" element={<Navigate to="/bench" replace />} />
                  <Route path="/shelf" element={<Shelf me={person} />} />
                  <Route path="/bench" element={<Mixes />} />
                  <Route path="/shelf/preparations" element={<NewPreparation />} />
                  <Route path="/shelf/preparations/:slug" element={<EditPreparation />} />
                  <Route path="/bench/paste" element={<PasteRecipe />} />
                  <Route path="/bench/:mixId" element={<Bench me={person} />} />
                  <Route path="/batches" element={<Batches />} />
                  <Route path="/batches/:batchId" element={<BatchSheet />} />
                  <Route path="*" element={<Navigate to="/bench" replace />} />
                </Routes>
              </Frame>
            </VocabularyContext>
          )}
        </Waiting>
      )}
    </Waiting>
  );
}
