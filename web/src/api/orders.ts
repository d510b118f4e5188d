/** Orders and their plans. */
import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answer, api, type Schemas } from "./client";
import { wave } from "./frame";
import { everyPage } from "./reading";
import { STANDING, PLANS, BENCH, write, type Effect } from "./writing";

export type OrderState =
  "open" | "new" | "held" | "planned" | "bench" | "packed" | "cancelled" | "joined";

/** Who ordered before, by part of the name. */
export const buyers = (find: string) =>
  queryOptions({
    queryKey: ["buyers", find],
    queryFn: () => answer(api.GET("/api/buyers", { params: { query: { find } } })),
    enabled: find.trim().length > 1,
    staleTime: 10_000,
  });

export const orders = (state: OrderState | undefined, search: string, page: number) =>
  queryOptions({
    queryKey: ["orders", state ?? "all", search, page],
    queryFn: () =>
      answer(
        api.GET("/api/orders", {
          params: {
            query: { ...(state ? { state } : {}), ...(search ? { find: search } : {}), page },
          },
        }),
      ),
  });

export const order = (id: number) =>
  queryOptions({
    queryKey: ["order", id],
    queryFn: () =>
      answer(api.GET("/api/orders/{order_id}", { params: { path: { order_id: id } } })),
  });

/** What would come of an order that is being typed; nothing is saved. */
export const sketchOrder = (body: Schemas["SketchIn"] | null) =>
  queryOptions({
    queryKey: ["sketch", body],
    queryFn: () =>
      answer(api.POST("/api/orders/by-hand/sketch", { body: body as Schemas["SketchIn"] })),
    enabled: body !== null,
    placeholderData: keepPreviousData,
    retry: false,
  });

/** Orders that their channel sent again otherwise, or cancelled. */
export const orderChanges = () =>
  queryOptions({
    queryKey: ["orders", "changes"],
    queryFn: () =>
      answer(api.GET("/api/orders/changes", { params: { query: { page_size: 100 } } })),
  });

export const changeEffect = (change_id: number) =>
  queryOptions({
    queryKey: ["orders", "changes", change_id, "effect"],
    queryFn: () =>
      answer(
        api.GET("/api/orders/changes/{change_id}/effect", { params: { path: { change_id } } }),
      ),
  });

/** Open orders of one buyer to one place. */
export const joinOffers = () =>
  queryOptions({
    queryKey: ["orders", "joins"],
    queryFn: () => answer(api.GET("/api/orders/joins")),
  });

export const joinEffect = (order_ids: number[]) =>
  queryOptions({
    queryKey: ["orders", "joins", order_ids, "effect"],
    queryFn: () => answer(api.POST("/api/orders/joins/effect", { body: { order_ids } })),
  });

export const channelFiles = () =>
  queryOptions({
    queryKey: ["channel-files"],
    queryFn: () =>
      everyPage((page) =>
        answer(api.GET("/api/channel-files", { params: { query: { page, page_size: 200 } } })),
      ),
  });

export const goodsNames = (page: number) =>
  queryOptions({
    queryKey: ["goods-names", page],
    queryFn: () => answer(api.GET("/api/goods-names", { params: { query: { page } } })),
    placeholderData: keepPreviousData,
  });

export const orderPlan = (id: number) =>
  queryOptions({
    queryKey: ["plan", id],
    queryFn: () =>
      answer(api.GET("/api/orders/{order_id}/plan", { params: { path: { order_id: id } } })),
  });

export const planRoom = (id: number) =>
  queryOptions({
    queryKey: ["plan", id, "room"],
    queryFn: () =>
      answer(api.GET("/api/orders/{order_id}/plan/room", { params: { path: { order_id: id } } })),
  });

export const planAdvice = (id: number) =>
  queryOptions({
    queryKey: ["plan", id, "advice"],
    queryFn: () =>
      answer(api.GET("/api/orders/{order_id}/plan/advice", { params: { path: { order_id: id } } })),
  });

export const planSpare = (id: number) =>
  queryOptions({
    queryKey: ["plan", id, "spare"],
    queryFn: () =>
      answer(api.GET("/api/orders/{order_id}/plan/spare", { params: { path: { order_id: id } } })),
  });

/** Orders that are set aside. */
export const holds = (page: number) =>
  queryOptions({
    queryKey: ["orders", "holds", page],
    queryFn: () => answer(api.GET("/api/holds", { params: { query: { page, page_size: 50 } } })),
    placeholderData: keepPreviousData,
  });

/** A file, and what the person said of it. */
type Sent = Omit<Schemas["FileIn"], "content">;

export const previewOrders = () =>
  write(
    (body: Sent) =>
      answer(api.POST("/api/orders/intake/preview", { body: { content: "", ...body } })),
    { stale: [] },
  );

export const importOrders = () =>
  write(
    (body: Sent) =>
      answer(api.POST("/api/orders/intake/accept", { body: { content: "", ...body } })),
    { stale: [...PLANS, ["channel-files"], ["goods-names"]] },
  );

export const addOrder = () =>
  write((body: Schemas["AddOrderIn"]) => answer(api.POST("/api/orders/by-hand", { body })), {
    stale: [...PLANS, ["buyers"]],
  });

export const changeOrder = (id: number) =>
  write(
    (body: Schemas["ChangeOrderIn"]) =>
      answer(
        api.POST("/api/orders/{order_id}/change", { params: { path: { order_id: id } }, body }),
      ),
    { stale: [...PLANS, ["order", id], ["buyers"]] },
  );

export const applyChange = () =>
  write(
    (change_id: number) =>
      answer(
        api.POST("/api/orders/changes/{change_id}/apply", { params: { path: { change_id } } }),
      ),
    { stale: [...PLANS, ...BENCH] },
  );

export const ignoreChange = () =>
  write(
    (change_id: number) =>
      answer(
        api.POST("/api/orders/changes/{change_id}/ignore", { params: { path: { change_id } } }),
      ),
    { stale: [...PLANS, ...BENCH] },
  );

export const joinOrders = () =>
  write((order_ids: number[]) => answer(api.POST("/api/orders/joins", { body: { order_ids } })), {
    stale: PLANS,
  });

export const partOrders = () =>
  write(
    (order_id: number) =>
      answer(api.POST("/api/orders/{order_id}/part", { params: { path: { order_id } } })),
    { stale: PLANS },
  );

export const releaseOrder = () =>
  write(
    (id: number) =>
      answer(api.POST("/api/orders/{order_id}/release", { params: { path: { order_id: id } } })),
    { stale: (_, id) => [...STANDING, ["plan", id]] },
  );

export const holdOrder = () =>
  write(
    ({ id, reason }: { id: number; reason: string }) =>
      answer(
        api.POST("/api/orders/{order_id}/hold", {
          params: { path: { order_id: id } },
          body: { reason },
        }),
      ),
    { stale: (_, { id }) => [...STANDING, ["plan", id], ["supplies"]] },
  );

export const cancelOrder = () =>
  write(
    ({ id, reason }: { id: number; reason: string }) =>
      answer(
        api.POST("/api/orders/{order_id}/cancel", {
          params: { path: { order_id: id } },
          body: { reason },
        }),
      ),
    { stale: () => [...STANDING, ["supplies"]] },
  );

export const planAll = () =>
  write(() => answer(api.POST("/api/plans/wave")), { stale: [["wave"]] });

export const stopWave = () =>
  write(() => answer(api.POST("/api/plans/wave/stop")), {
    stale: [],
    keep: (client, now) => client.setQueryData(wave().queryKey, now),
  });

/** A plan that came back as the answer of a decision; what it reserves has changed with it. */
const planned = (id: number): Effect<Schemas["OrderPlanOut"], unknown> => ({
  keep: (client, now) => client.setQueryData(orderPlan(id).queryKey, now),
  stale: [
    ["care"],
    ...STANDING,
    ["plan", id, "advice"],
    ["plan", id, "spare"],
    ["plan", id, "room"],
    ["supplies"],
  ],
});

export const chooseContainer = (id: number) =>
  write(
    (container: string | null) =>
      answer(
        api.POST("/api/orders/{order_id}/plan/container", {
          params: { path: { order_id: id } },
          body: { container },
        }),
      ),
    planned(id),
  );

export const override = (id: number) =>
  write(
    (body: Schemas["OverridesIn"]) =>
      answer(
        api.POST("/api/orders/{order_id}/plan/overrides", {
          params: { path: { order_id: id } },
          body,
        }),
      ),
    planned(id),
  );

/** Set everything decided for this order at once. */
export const decide = (id: number) =>
  write(
    (body: Schemas["DecisionsIn"]) =>
      answer(
        api.POST("/api/orders/{order_id}/plan/decisions", {
          params: { path: { order_id: id } },
          body,
        }),
      ),
    planned(id),
  );

export const forgetChannelFile = () =>
  write(
    (channel_id: number) =>
      answer(api.DELETE("/api/channel-files/{channel_id}", { params: { path: { channel_id } } })),
    { stale: [["channel-files"]] },
  );

export const forgetGoodsName = () =>
  write(
    (name_id: number) =>
      answer(api.DELETE("/api/goods-names/{name_id}", { params: { path: { name_id } } })),
    { stale: [["goods-names"]] },
  );
