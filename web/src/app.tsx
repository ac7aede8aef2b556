import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import { Navigate, Route, Routes, useLocation } from "react-router";

import { Problem } from "./shared/api/client";
import { KitchenContext } from "./shared/api/kitchen";
import { kitchenQuery, sessionQuery, vocabularyQuery } from "./shared/api/queries";
import { VocabularyContext } from "./shared/api/vocabulary";
import { Mixes } from "./stations/bench/mixes/mixes";
import { SignIn } from "./stations/sign-in/sign-in";
import { ErrorBoundary } from "./ui/error-boundary";
import { Frame } from "./ui/frame";
import { OneMoment, Waiting } from "./ui/waiting";

const Bench = lazy(() => import("./stations/bench/bench").then(({ Bench }) => ({ default: Bench })));
const PasteRecipe = lazy(() => import("./stations/bench/paste/paste-recipe").then(({ PasteRecipe }) => ({ default: PasteRecipe })));
const Shelf = lazy(() => import("./stations/shelf/shelf").then(({ Shelf }) => ({ default: Shelf })));
const NewPreparation = lazy(() => import("./stations/shelf/preparation/preparation").then(({ NewPreparation }) => ({ default: NewPreparation })));
const EditPreparation = lazy(() => import("./stations/shelf/preparation/preparation").then(({ EditPreparation }) => ({ default: EditPreparation })));
const Batches = lazy(() => import("./stations/batches/batches").then(({ Batches }) => ({ default: Batches })));
const BatchSheet = lazy(() => import("./stations/batches/batch-sheet").then(({ BatchSheet }) => ({ default: BatchSheet })));
const MakePage = lazy(() => import("./stations/make/make").then(({ MakePage }) => ({ default: MakePage })));
const BatchesAtWork = lazy(() => import("./stations/make/at-work").then(({ BatchesAtWork }) => ({ default: BatchesAtWork })));
const Plans = lazy(() => import("./stations/plan/plans").then(({ Plans }) => ({ default: Plans })));
const PlanPage = lazy(() => import("./stations/plan/plan").then(({ PlanPage }) => ({ default: PlanPage })));
const Trials = lazy(() => import("./stations/trials/trials").then(({ Trials }) => ({ default: Trials })));
const NewTrialPage = lazy(() => import("./stations/trials/new-trial").then(({ NewTrialPage }) => ({ default: NewTrialPage })));
const TrialPage = lazy(() => import("./stations/trials/trial").then(({ TrialPage }) => ({ default: TrialPage })));
const Tastings = lazy(() => import("./stations/taste/tastings").then(({ Tastings }) => ({ default: Tastings })));
const TastePage = lazy(() => import("./stations/taste/taste").then(({ TastePage }) => ({ default: TastePage })));
const LearntPage = lazy(() => import("./stations/taste/learnt").then(({ LearntPage }) => ({ default: LearntPage })));
const DosesPage = lazy(() => import("./stations/taste/doses").then(({ DosesPage }) => ({ default: DosesPage })));
const KitchenPage = lazy(() => import("./stations/kitchen/kitchen").then(({ KitchenPage }) => ({ default: KitchenPage })));

/** Nobody gets past the door; behind it every station has an address of its own. */
export function App() {
  const session = useQuery(sessionQuery);
  const enabled = session.data !== undefined;
  const vocabulary = useQuery({ ...vocabularyQuery, enabled });
  const kitchen = useQuery({ ...kitchenQuery, enabled });
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
  const { pathname } = useLocation();
  return (
    <ErrorBoundary place={pathname}>
      <Suspense fallback={<OneMoment />}>
        <Routes>
          <Route path="/" element={<Navigate to="/bench" replace />} />
          <Route path="/shelf" element={<Shelf />} />
          <Route path="/bench" element={<Mixes />} />
          <Route path="/shelf/preparations" element={<NewPreparation />} />
          <Route path="/shelf/preparations/:slug" element={<EditPreparation />} />
          <Route path="/bench/paste" element={<PasteRecipe />} />
          <Route path="/bench/:mixId" element={<Bench />} />
          <Route path="/make" element={<BatchesAtWork />} />
          <Route path="/make/:batchId" element={<MakePage />} />
          <Route path="/batches" element={<Batches />} />
          <Route path="/batches/:batchId" element={<BatchSheet />} />
          <Route path="/plan" element={<Plans />} />
          <Route path="/plan/:planId" element={<PlanPage />} />
          <Route path="/trials" element={<Trials />} />
          <Route path="/trials/new" element={<NewTrialPage />} />
          <Route path="/trials/:trialId" element={<TrialPage />} />
          <Route path="/taste" element={<Tastings />} />
          <Route path="/taste/learnt" element={<LearntPage />} />
          <Route path="/taste/doses" element={<DosesPage />} />
          <Route path="/taste/:batchId" element={<TastePage />} />
          <Route path="/kitchen/:room?" element={<KitchenPage />} />
          <Route path="*" element={<Navigate to="/bench" replace />} />
        </Routes>
      </Suspense>
    </ErrorBoundary>
  );
}
