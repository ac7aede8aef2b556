import "./styles.css";

import { notifyManager, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { setNonce } from "get-nonce";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";

import { App } from "./app";
import { Offline, onSignedOut, Problem } from "./shared/api/client";
import { sessionQuery } from "./shared/api/queries";

const nonce = document.querySelector<HTMLMetaElement>('meta[name="style-nonce"]')?.content;
if (nonce) setNonce(nonce);

notifyManager.setScheduler(queueMicrotask); // a timer would let a frame go by before an answer is drawn

const TRY_AGAIN_MS = 2000;

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (count, error) => !(error instanceof Problem) && count < 2,
      refetchOnWindowFocus: false,
      refetchInterval: (query) => query.state.error instanceof Offline && TRY_AGAIN_MS, // what says so comes back by itself
    },
    mutations: { networkMode: "always" }, // without a connection a press says so, and does not wait to surprise later
  },
});

/** Nothing that one person was shown is left for the next. */
onSignedOut(() => {
  void queries.resetQueries(sessionQuery).then(() => queries.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== sessionQuery.queryKey[0] }));
});

const root = document.getElementById("root");
if (!root) throw new Error("The page has no root element.");
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <App />
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);

if ("serviceWorker" in navigator) void navigator.serviceWorker.register("/service-worker.js").catch(() => undefined); // without it a reload needs the server
