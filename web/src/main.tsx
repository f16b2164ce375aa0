import { QueryClient } from "@tanstack/react-query";
import { PersistQueryClientProvider } from "@tanstack/react-query-persist-client";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { mayPass } from "./api/client";
import { App } from "./app";
import { SettingsProvider } from "./components/settings-context";
import { Guard } from "./components/ui/Guard";
import { KEPT } from "./offline/kept";
import { startOutbox } from "./offline/outbox";
import { planWorker } from "./offline/worker";
import { ahead } from "./queries/ahead";
import "./index.css";

const cache = new QueryClient({
  // The program may run on this very machine, or on a laptop beside it: whether there is an internet says nothing about it.
  defaultOptions: {
    mutations: { networkMode: "always" },
    queries: {
      networkMode: "always",
      // What was fetched once is there as long as the page is, and kept on the device between pages.
      gcTime: Number.POSITIVE_INFINITY,
      staleTime: 5_000,
      retry: (count, error) => count < 3 && mayPass(error),
      retryDelay: (count) => Math.min(1000 * 2 ** count, 4000),
    },
  },
});

ahead(cache, location.pathname);
startOutbox();
planWorker();

const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <PersistQueryClientProvider client={cache} persistOptions={KEPT}>
        <SettingsProvider>
          <Guard>
            <BrowserRouter>
              <App />
            </BrowserRouter>
          </Guard>
        </SettingsProvider>
      </PersistQueryClientProvider>
    </StrictMode>,
  );
