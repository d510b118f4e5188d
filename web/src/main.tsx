import { QueryCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { setNonce } from "get-nonce";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { ProblemError } from "./api/client";
import { App } from "./app/App";
import { applyTheme, savedTheme } from "./app/theme";
import "./app/tokens.css";

// Radix puts small style sheets into the page; the strict policy wants them to carry this request's nonce.
setNonce(document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content ?? "");
applyTheme(savedTheme());

/** A session that ended while the page was open: ask the server again, it brings the sign-in. Drafts stay on the device. */
function signInAgain(error: Error) {
  if (
    error instanceof ProblemError &&
    error.problem.status === 401 &&
    document.querySelector("nav, header")
  )
    window.location.reload();
}

const client = new QueryClient({
  queryCache: new QueryCache({ onError: signInAgain }),
  defaultOptions: {
    queries: {
      staleTime: 3_000,
      retry: (count, error) =>
        !(
          error instanceof ProblemError &&
          error.problem.status > 0 &&
          error.problem.status < 500
        ) && count < 2,
    },
  },
});

const root = document.getElementById("root");
if (!root) throw new Error("the page has no root");
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <BrowserRouter>
        <App />
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);
