/** The one query client: when to ask again, and what a write makes stale (api/writing). */
import { MutationCache, QueryCache, QueryClient } from "@tanstack/react-query";
import { ProblemError } from "../api/client";
import type { Effect } from "../api/writing";

/** A session that ended while the page was open: ask the server again, it brings the sign-in. Drafts stay on the device. */
function signInAgain(error: Error) {
  if (
    error instanceof ProblemError &&
    error.problem.status === 401 &&
    document.querySelector("nav, header")
  )
    window.location.reload();
}

/** A refusal is not asked again; a server that does not answer is, twice. */
function mayAskAgain(count: number, error: Error): boolean {
  const refused =
    error instanceof ProblemError && error.problem.status > 0 && error.problem.status < 500;
  return !refused && count < 2;
}

export function makeQueryClient(): QueryClient {
  const client: QueryClient = new QueryClient({
    queryCache: new QueryCache({ onError: signInAgain }),
    mutationCache: new MutationCache({
      onSuccess: (got, sent, _, mutation) => {
        const effect = mutation.meta?.effect as Effect<unknown, unknown> | undefined;
        if (!effect) return;
        effect.keep?.(client, got, sent);
        const stale = typeof effect.stale === "function" ? effect.stale(got, sent) : effect.stale;
        for (const queryKey of stale) void client.invalidateQueries({ queryKey });
      },
    }),
    defaultOptions: { queries: { staleTime: 3_000, retry: mayAskAgain } },
  });
  return client;
}
