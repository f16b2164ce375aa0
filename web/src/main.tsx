import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { mayPass } from "./api/client";
import { App } from "./app";
import { SettingsProvider } from "./components/settings-context";
import { Guard } from "./components/ui/Guard";
import { startOutbox } from "./offline/outbox";
import "./index.css";

const cache = new QueryClient({
  // The program may run on this very machine, or on a laptop beside it: whether there is an internet says nothing about it.
  defaultOptions: {
    mutations: { networkMode: "always" },
    queries: {
      networkMode: "always",
      staleTime: 5_000,
      retry: (count, error) => count < 3 && mayPass(error),
      retryDelay: (count) => Math.min(1000 * 2 ** count, 4000),
    },
  },
});

startOutbox();

const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={cache}>
        <SettingsProvider>
          <Guard>
            <BrowserRouter>
              <App />
            </BrowserRouter>
          </Guard>
        </SettingsProvider>
      </QueryClientProvider>
    </StrictMode>,
  );
