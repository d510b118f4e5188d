/** The bench: parcels being packed, packed ahead and packed together. */
import { queryOptions } from "@tanstack/react-query";
import { answer, api, type Schemas } from "./client";
import { STANDING, PLANS, STOCK, BENCH, write } from "./writing";

export const parcels = (state: "packing" | "closed") =>
  queryOptions({
    queryKey: ["parcels", state],
    queryFn: () => answer(api.GET("/api/parcels", { params: { query: { state } } })),
  });

export const parcel = (id: number) =>
  queryOptions({
    queryKey: ["parcel", id],
    queryFn: () =>
      answer(api.GET("/api/parcels/{parcel_id}", { params: { path: { parcel_id: id } } })),
  });

export const closingTime = (parcelId: number) =>
  queryOptions({
    queryKey: ["parcel", parcelId, "closing"],
    queryFn: () =>
      answer(
        api.GET("/api/day/closing/{parcel_id}", { params: { path: { parcel_id: parcelId } } }),
      ),
    staleTime: 60_000,
  });

export const readyParcels = () =>
  queryOptions({
    queryKey: ["ready-parcels"],
    queryFn: () => answer(api.GET("/api/ready-parcels", { params: { query: { page_size: 200 } } })),
  });

/** What the parcels of a wave begin with, done for all at once. */
export const together = (parcels: string) =>
  queryOptions({
    queryKey: ["parcels", "together", parcels],
    queryFn: () => answer(api.GET("/api/bench/together", { params: { query: { parcels } } })),
    enabled: parcels !== "",
    refetchOnWindowFocus: false,
    retry: false,
  });

type Parcel = Schemas["ParcelOut"];

export const beginParcel = () =>
  write((order_id: number) => answer(api.POST("/api/parcels/begin", { body: { order_id } })), {
    stale: (_, id) => [...STANDING, ...BENCH, ["plan", id], ["supplies"]],
  });

export const saveProgress = (id: number) =>
  write(
    (body: Schemas["ProgressIn"]) =>
      answer(
        api.POST("/api/parcels/{parcel_id}/progress", {
          params: { path: { parcel_id: id } },
          body,
        }),
      ),
    { stale: [["parcels"]] },
  );

/** One act on the parcel at the bench: weigh, accept, label, close, open again. The answer is the parcel as it is now. */
export const parcelAct = (id: number) =>
  write((act: () => Promise<Parcel>) => act(), {
    keep: (client, now) => client.setQueryData(parcel(id).queryKey, now),
    stale: [...STANDING, ...BENCH, ["supplies"], ["entries"]],
  });

export const holdParcel = () =>
  write(
    ({ id, ...body }: { id: number } & Schemas["TakeOffIn"]) =>
      answer(
        api.POST("/api/parcels/{parcel_id}/hold", { params: { path: { parcel_id: id } }, body }),
      ),
    { stale: (order) => [...STANDING, ...BENCH, ["plan", order.id], ["supplies"], ["entries"]] },
  );

export const packAhead = () =>
  write((body: Schemas["PackAheadIn"]) => answer(api.POST("/api/ready-parcels", { body })), {
    stale: [...BENCH, ...STOCK, ...PLANS],
  });

export const unpackReady = () =>
  write(
    (id: number) =>
      answer(
        api.POST("/api/ready-parcels/{ready_id}/unpack", {
          params: { path: { ready_id: id } },
          body: { reason: "taken apart at the bench" },
        }),
      ),
    { stale: [...BENCH, ...STOCK, ...PLANS] },
  );

/** The steps a wave shares are done: each parcel goes on with its own. */
export const doneTogether = () =>
  write(
    (parcel_ids: number[]) =>
      answer(api.POST("/api/bench/together/done", { body: { parcel_ids } })),
    { stale: [...BENCH, ["parcel"]] },
  );

/** How large a packed parcel is outside. Plans do not change by it until somebody takes what it teaches. */
export const measureOutside = (id: number) =>
  write(
    (body: Schemas["OuterIn"]) =>
      answer(
        api.PUT("/api/parcels/{parcel_id}/outer", { params: { path: { parcel_id: id } }, body }),
      ),
    { stale: [["learned"]] },
  );
