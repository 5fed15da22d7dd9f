/** Starts the application: queries, session, places. */
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { App } from "./App";
import { afterMs, asksAgain } from "./api/again";
import { ApiProblem } from "./api/client";
import { isLoadFailure } from "./app/feedback";
import { giveStylesTheNonce, pageNonce } from "./nonce";
import "./app/theme.css";
import "./app/shell.css";

giveStylesTheNonce(pageNonce());

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 10_000,
      retry: asksAgain,
      retryDelay: afterMs,
    },
  },
});

const root = document.getElementById("root");
if (root === null) throw new Error("the page has no #root");
createRoot(root, {
  // Refusals and a network that is down are shown as sentences; only our faults are logged.
  onCaughtError: (error) => {
    if (!(error instanceof ApiProblem) && !isLoadFailure(error)) console.error(error);
  },
}).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <App />
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
