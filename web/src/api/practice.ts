/** Practice at the bench: each person's own, and nothing of it is real. */
import { queryOptions } from "@tanstack/react-query";
import { answer, api, type Schemas } from "./client";
import { write } from "./writing";

export const practices = (page: number) =>
  queryOptions({
    queryKey: ["practice", "list", page],
    queryFn: () => answer(api.GET("/api/practice", { params: { query: { page } } })),
  });

export const practice = (id: number) =>
  queryOptions({
    queryKey: ["practice", id],
    queryFn: () => answer(api.GET("/api/practice/{run_id}", { params: { path: { run_id: id } } })),
    refetchOnWindowFocus: false,
  });

const STALE = [["practice"]];

export const beginPractice = () =>
  write((order_id: number) => answer(api.POST("/api/practice", { body: { order_id } })), {
    stale: STALE,
  });

export const deletePractice = () =>
  write(
    (id: number) =>
      answer(api.DELETE("/api/practice/{run_id}", { params: { path: { run_id: id } } })),
    { stale: [["practice", "list"]] },
  );

/** Say that something is not as planned; the answer says whether that is so. */
export const reportPractice = (id: number) =>
  write(
    (body: Schemas["ReportIn"]) =>
      answer(api.POST("/api/practice/{run_id}/report", { params: { path: { run_id: id } }, body })),
    { stale: [["practice", id]] },
  );

export const weighPractice = (id: number) =>
  write(
    (body: Schemas["PracticeWeighIn"]) =>
      answer(api.POST("/api/practice/{run_id}/weigh", { params: { path: { run_id: id } }, body })),
    { stale: [] },
  );

export const endPractice = (id: number) =>
  write(
    (spent: Record<string, number>) =>
      answer(
        api.POST("/api/practice/{run_id}/end", {
          params: { path: { run_id: id } },
          body: { spent },
        }),
      ),
    {
      keep: (client, now) => client.setQueryData(practice(id).queryKey, now),
      stale: [["practice", "list"]],
    },
  );
