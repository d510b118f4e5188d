/** The typed door to the server. Every refusal becomes a ProblemError with the server's words. */
import createClient, { type Middleware } from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Problem = Schemas["Problem"];

export class ProblemError extends Error {
  readonly problem: Problem;
  constructor(problem: Problem) {
    super(problem.detail);
    this.problem = problem;
  }
}

function cookie(name: string): string {
  const found = document.cookie.split("; ").find((part) => part.startsWith(`${name}=`));
  return found ? decodeURIComponent(found.slice(name.length + 1)) : "";
}

const withToken: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", cookie("csrftoken"));
    return request;
  },
};

export const api = createClient<paths>({
  baseUrl: typeof window === "undefined" ? "" : window.location.origin,
  fetch: (request) => globalThis.fetch(request), // looked up at each call: tests put another in its place
});
api.use(withToken);

const NO_ANSWER: Problem = {
  type: "about:blank",
  title: "No answer",
  status: 0,
  code: "no_answer",
  detail: "The server does not answer. What you typed is still here; try again in a moment.",
  field: null,
  faults: [],
  facts: {},
};

/** Return the data of a call, or throw its problem. */
export async function answer<T>(
  call: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<T> {
  let result: { data?: T; error?: unknown; response: Response };
  try {
    result = await call;
  } catch {
    throw new ProblemError(NO_ANSWER);
  }
  if (result.response.ok) return result.data as T;
  const given = result.error as Partial<Problem> | undefined;
  if (given && typeof given.detail === "string" && typeof given.code === "string")
    throw new ProblemError(given as Problem);
  throw new ProblemError({
    ...NO_ANSWER,
    status: result.response.status,
    code: "server_error",
    detail:
      "The server stumbled over this. Nothing was changed; try again, and tell the owner if it stays.",
  });
}
