import "./guest.css";

import { StrictMode } from "react";
import { createRoot } from "react-dom/client";

import { Guest } from "./guest";

const root = document.getElementById("root");
if (!root) throw new Error("The page has no root element.");
const secret = window.location.pathname.replace("/guest/", "");
createRoot(root).render(
  <StrictMode>
    <Guest secret={secret} />
  </StrictMode>,
);

if ("serviceWorker" in navigator) void navigator.serviceWorker.register("/guest-worker.js", { scope: "/guest/" }).catch(() => undefined); // without it a reload needs the server
