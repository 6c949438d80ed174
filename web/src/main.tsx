import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { BrowserRouter } from "react-router";
import { askEarly } from "./api/queries";
import { App } from "./shell/App";
import "./style.css";

/** How long the page waits for answers before it says that it is reading [ms]. */
const SOON_MS = 300;

const queries = new QueryClient({
  defaultOptions: {
    // Without a network what was seen last is answered from this device.
    queries: { networkMode: "always", retry: 1, staleTime: 2000, refetchOnWindowFocus: true },
    mutations: { networkMode: "always" },
  },
});

const root = document.getElementById("root");
if (!root) throw new Error("The page has no #root to draw in.");

// The first screen is drawn once, with what it shows, where that is there soon: it is asked for before all else.
// What draws is loaded on its own: as it starts it makes errors for later, and an engine that is watched reads every
// script anew in whose start an error is made.
const soon = new Promise((then) => setTimeout(then, SOON_MS));
const there = Promise.race([askEarly(queries), soon]);
void Promise.all([import("react-dom/client"), there]).then(([{ createRoot }]) =>
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <App />
        </BrowserRouter>
      </QueryClientProvider>
    </StrictMode>,
  ),
);
