import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { ProblemError } from "./api/client";
import { App } from "./app";
import { SettingsProvider } from "./components/settings-context";
import { flushOutbox } from "./offline/outbox";
import "./index.css";

const cache = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      retry: (count, error) => count < 2 && error instanceof ProblemError && error.problem.code === "offline",
    },
  },
});

function flush(): void {
  void flushOutbox().then((sent) => (sent > 0 ? cache.invalidateQueries() : undefined));
}
window.addEventListener("online", flush);
flush();

const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={cache}>
        <SettingsProvider>
          <BrowserRouter>
            <App />
          </BrowserRouter>
        </SettingsProvider>
      </QueryClientProvider>
    </StrictMode>,
  );
