/** Who is signed in, and what the frame of every screen asks. */
import { queryOptions } from "@tanstack/react-query";
import { answer, api } from "./client";
import { write } from "./writing";

export const session = () =>
  queryOptions({
    queryKey: ["session"],
    queryFn: () => answer(api.GET("/api/session")),
    retry: false,
    staleTime: 60_000,
  });

/** What the first page offers: the sample workshop, or one's own. Asked again while the sample is being loaded. */
export const begin = () =>
  queryOptions({
    queryKey: ["begin"],
    queryFn: () => answer(api.GET("/api/begin")),
    refetchInterval: (query) => (query.state.data?.sample === "coming" ? 1500 : false),
  });

export const rail = () =>
  queryOptions({
    queryKey: ["rail"],
    queryFn: () => answer(api.GET("/api/rail")),
    refetchInterval: 20_000,
  });

export const find = (q: string) =>
  queryOptions({
    queryKey: ["find", q],
    queryFn: () => answer(api.GET("/api/find", { params: { query: { q } } })),
    enabled: q.trim().length > 0,
    staleTime: 5_000,
  });

/** Planning in the background; asked again each second while it runs. */
export const wave = () =>
  queryOptions({
    queryKey: ["wave"],
    queryFn: () => answer(api.GET("/api/plans/wave")),
    refetchInterval: (query) => (query.state.data?.running ? 1000 : false),
  });

/** The page is loaded again afterwards: nothing of the old session stays. */
export const signOut = () => write(() => answer(api.DELETE("/api/session")), { stale: [] });
