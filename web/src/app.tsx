import { useQuery } from "@tanstack/react-query";
import { Navigate, Route, Routes } from "react-router";

import { enterKitchen, Problem } from "./shared/api/client";
import { KitchenContext } from "./shared/api/kitchen";
import { kitchenQuery, sessionQuery, vocabularyQuery } from "./shared/api/queries";
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
  const session = useQuery(sessionQuery);
  const slug = session.data?.kitchens[0]?.slug;
  if (slug) enterKitchen(slug);
  const vocabulary = useQuery({ ...vocabularyQuery, enabled: slug !== undefined });
  const kitchen = useQuery({ ...kitchenQuery, enabled: slug !== undefined });
  if (session.error instanceof Problem && session.error.status === 401) return <SignIn />;
  return (
    <Waiting query={session}>
      {() => (
        <Waiting query={vocabulary}>
          {(words) => (
            <Waiting query={kitchen}>
              {(settings) => (
                <VocabularyContext value={words}>
                  <KitchenContext value={settings}>
                    <Frame>
                      <Stations />
                    </Frame>
                  </KitchenContext>
                </VocabularyContext>
              )}
            </Waiting>
          )}
        </Waiting>
      )}
    </Waiting>
  );
}

function Stations() {
  return (
    <Routes>
      <Route path="/" element={<Navigate to="/bench" replace />} />
      <Route path="/shelf" element={<Shelf />} />
      <Route path="/bench" element={<Mixes />} />
      <Route path="/shelf/preparations" element={<NewPreparation />} />
      <Route path="/shelf/preparations/:slug" element={<EditPreparation />} />
      <Route path="/bench/paste" element={<PasteRecipe />} />
      <Route path="/bench/:mixId" element={<Bench />} />
      <Route path="/batches" element={<Batches />} />
      <Route path="/batches/:batchId" element={<BatchSheet />} />
      <Route path="*" element={<Navigate to="/bench" replace />} />
    </Routes>
  );
}
