import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { askEarly } from "./api/queries";
import { App } from "./shell/App";
import "./style.css";

const queries = new QueryClient({
  defaultOptions: {
    // Without a network what was seen last is answered from this device.
    queries: { networkMode: "always", retry: 1, staleTime: 2000, refetchOnWindowFocus: true },
    mutations: { networkMode: "always" },
  },
});

void askEarly(queries);

const root = document.getElementById("root");
if (!root) throw new Error("The page has no #root to draw in.");
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <App />
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
