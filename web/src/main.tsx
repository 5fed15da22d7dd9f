/** Starts the application: queries, session, places. */
import { QueryClient } from "@tanstack/react-query";
import { PersistQueryClientProvider } from "@tanstack/react-query-persist-client";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { App } from "./App";
import { afterMs, asksAgain } from "./api/again";
import { ApiProblem } from "./api/client";
import { isLoadFailure } from "./app/feedback";
import { holdOwn, keepingOwn } from "./app/own";
import { keepTheApplication } from "./app/serviceWorker";
import { giveStylesTheNonce, pageNonce } from "./nonce";
import { askAhead } from "./parts";
import "./app/theme.css";
import "./app/shell.css";

giveStylesTheNonce(pageNonce());

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 10_000,
      retry: asksAgain,
      retryDelay: afterMs,
      // A laptop without any network still reaches the server that runs on it.
      networkMode: "always",
    },
    mutations: { networkMode: "always" },
  },
});

holdOwn(queries);
keepTheApplication();

const root = document.getElementById("root");
if (root === null) throw new Error("the page has no #root");
const page = createRoot(root, {
  // Refusals and a network that is down are shown as sentences; only our faults are logged.
  onCaughtError: (error) => {
    if (!(error instanceof ApiProblem) && !isLoadFailure(error)) console.error(error);
  },
});
// Not awaited at the top: what is asked for is built on this very module.
askAhead(window.location.pathname).then(() =>
  page.render(
    <StrictMode>
      <PersistQueryClientProvider
        client={queries}
        persistOptions={keepingOwn(queries)}
        // All of it is asked anew: meanwhile the page shows what this device kept.
        onSuccess={() => queries.invalidateQueries()}
      >
        <BrowserRouter>
          <App />
        </BrowserRouter>
      </PersistQueryClientProvider>
    </StrictMode>,
  ),
);
