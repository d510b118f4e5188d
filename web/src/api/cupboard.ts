/** The shelves: supplies and what is posted of them. */
import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answer, api, type Schemas } from "./client";
import { everyPage } from "./reading";
import { PLANS, STOCK, SHELVES, write } from "./writing";

/** Ordinary supplies to start from. */
export const starterShelf = () =>
  queryOptions({
    queryKey: ["starter"],
    queryFn: () => answer(api.GET("/api/supplies/starter")),
  });

export const supplies = () =>
  queryOptions({
    queryKey: ["supplies"],
    queryFn: () =>
      everyPage((page) =>
        answer(api.GET("/api/supplies", { params: { query: { page, page_size: 200 } } })),
      ),
  });

/** Those out of use. */
export const retiredSupplies = () =>
  queryOptions({
    queryKey: ["supplies", "retired"],
    queryFn: () =>
      answer(api.GET("/api/supplies", { params: { query: { page_size: 200, retired: true } } })),
  });

/** Who would miss a supply, and what could take its place. */
export const supplyUses = (id: number) =>
  queryOptions({
    queryKey: ["supplies", id, "uses"],
    queryFn: () =>
      answer(api.GET("/api/supplies/{supply_id}/uses", { params: { path: { supply_id: id } } })),
  });

export const entries = (id: number, page: number) =>
  queryOptions({
    queryKey: ["entries", id, page],
    queryFn: () =>
      answer(
        api.GET("/api/supplies/{supply_id}/entries", {
          params: { path: { supply_id: id }, query: { page, page_size: 12 } },
        }),
      ),
  });

/** What stands on each shelf that was named. */
export const shelves = () =>
  queryOptions({ queryKey: ["shelves"], queryFn: () => answer(api.GET("/api/shelves")) });

/** What a carton probably weighs and takes (rules 13.7). */
export const estimateCarton = (body: Schemas["EstimateIn"] | null) =>
  queryOptions({
    queryKey: ["estimate", body],
    queryFn: () =>
      answer(api.POST("/api/supplies/estimate", { body: body as Schemas["EstimateIn"] })),
    enabled: body !== null,
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  });

type Supply = Schemas["SupplyOut"];

/** One posting to the ledger; ``send`` carries its request key, so that the same posting sent twice counts once. */
export const postStock = () =>
  write((send: () => Promise<Supply>) => send(), { stale: [...STOCK, ...PLANS] });

export const addStarter = () =>
  write(
    (supplies: Schemas["SupplyItem"][]) =>
      answer(api.POST("/api/supplies/starter", { body: { supplies } })),
    { stale: SHELVES },
  );

export const saveSupply = (id: number | null) =>
  write(
    (supply: Schemas["SupplyItem"]) =>
      id === null
        ? answer(api.POST("/api/supplies", { body: { supply } }))
        : answer(
            api.PUT("/api/supplies/{supply_id}", {
              params: { path: { supply_id: id } },
              body: { supply },
            }),
          ),
    { stale: SHELVES },
  );

export const arrangeSupply = () =>
  write(
    ({ id, ...body }: Schemas["SlotIn"] & { id: number }) =>
      answer(
        api.POST("/api/supplies/{supply_id}/arrange", {
          params: { path: { supply_id: id } },
          body,
        }),
      ),
    { stale: [["supplies"]] },
  );

export const retireSupply = () =>
  write(
    ({ id, replace_by }: { id: number; replace_by: number | null }) =>
      answer(
        api.POST("/api/supplies/{supply_id}/retire", {
          params: { path: { supply_id: id } },
          body: { replace_by },
        }),
      ),
    { stale: [...SHELVES, ["recipe"], ["versions"]] },
  );

export const nameShelf = () =>
  write(
    ({ letter, name }: { letter: string; name: string }) =>
      answer(api.PUT("/api/shelves/{letter}", { params: { path: { letter } }, body: { name } })),
    { stale: [["shelves"]] },
  );

export const bringBackSupply = () =>
  write(
    (id: number) =>
      answer(
        api.POST("/api/supplies/{supply_id}/bring-back", { params: { path: { supply_id: id } } }),
      ),
    { stale: SHELVES },
  );
