/** Starts the application: queries, session, places. */
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { App } from "./App";
import { afterMs, asksAgain } from "./api/again";
import { ApiProblem } from "./api/client";
import { isLoadFailure } from "./app/feedback";
import { keepsOwn } from "./app/own";
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
Promise.all([askAhead(window.location.pathname), giveOwnBack(queries)]).then(() =>
  page.render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <App />
        </BrowserRouter>
      </QueryClientProvider>
    </StrictMode>,
  ),
);

/** A part that is not here is no reason to wait: then everything is asked for, as on a new device. */
async function giveOwnBack(to: QueryClient) {
  if (!keepsOwn()) return;
  const keeping = await import("./app/keeping").catch(() => null);
  await keeping?.giveBack(to);
}
