/** Price lists and how a service is chosen. */
import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answer, api, type Schemas } from "./client";
import { PLANS, PRICES, write } from "./writing";

export const tariffs = () =>
  queryOptions({
    queryKey: ["tariffs", "list"],
    queryFn: () => answer(api.GET("/api/tariffs", { params: { query: { page_size: 200 } } })),
  });

export const tariff = (id: number) =>
  queryOptions({
    queryKey: ["tariffs", id],
    queryFn: () =>
      answer(api.GET("/api/tariffs/{tariff_id}", { params: { path: { tariff_id: id } } })),
  });

export const tariffEffect = (id: number) =>
  queryOptions({
    queryKey: ["tariffs", id, "effect"],
    queryFn: () =>
      answer(api.GET("/api/tariffs/{tariff_id}/effect", { params: { path: { tariff_id: id } } })),
  });

export const choosing = () =>
  queryOptions({ queryKey: ["choosing"], queryFn: () => answer(api.GET("/api/choosing")) });

/** A parcel over all services; the last answer stays while the next is fetched. */
export const compareRates = (body: Schemas["CompareIn"] | null) =>
  queryOptions({
    queryKey: ["compare-rates", body],
    queryFn: () =>
      body
        ? answer(api.POST("/api/rates/compare", { body }))
        : Promise.reject(new Error("nothing asked")),
    enabled: body !== null,
    placeholderData: keepPreviousData,
    retry: false,
  });

/** A price list as the file it was saved as. */
export const tariffDocument = (id: number) =>
  queryOptions({
    queryKey: ["tariffs", id, "document"],
    queryFn: async () => {
      const response = await fetch(`/api/tariffs/${id}/file`);
      if (!response.ok) throw new Error("The price list cannot be read. Load the page again.");
      return (await response.json()) as Record<string, unknown>;
    },
  });

/** What is wrong or odd with a price list that is typed, and what it asks for a parcel. */
export const checkTariff = (body: {
  document: Record<string, unknown>;
  parcel: Schemas["CompareIn"] | null;
}) =>
  queryOptions({
    queryKey: ["check-tariff", body],
    queryFn: () => answer(api.POST("/api/tariffs/check", { body })),
    placeholderData: keepPreviousData,
    retry: false,
  });

export const importTariff = () =>
  write(
    (body: { content: string; replace: boolean }) => answer(api.POST("/api/tariffs", { body })),
    { stale: (done) => [...PRICES, ["tariffs", done.row.id]] },
  );

export const importSteps = (id: number) =>
  write(
    (body: Schemas["StepsIn"]) =>
      answer(
        api.POST("/api/tariffs/{tariff_id}/steps", { params: { path: { tariff_id: id } }, body }),
      ),
    { stale: PRICES },
  );

export const deleteTariff = () =>
  write(
    (id: number) =>
      answer(api.DELETE("/api/tariffs/{tariff_id}", { params: { path: { tariff_id: id } } })),
    {
      // The list without it at once: what was deleted is not asked for again.
      keep: (client, _, id) =>
        client.setQueryData(
          tariffs().queryKey,
          (list) =>
            list && {
              ...list,
              count: list.count - 1,
              results: list.results.filter((row) => row.id !== id),
            },
        ),
      stale: PRICES,
    },
  );

export const saveChoosing = () =>
  write((body: Schemas["Rules"]) => answer(api.PUT("/api/choosing", { body })), {
    keep: (client, now) => client.setQueryData(choosing().queryKey, now),
    stale: PLANS,
  });
