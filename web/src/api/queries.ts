/** Query key and fetcher in one object each; screens use these and nothing else to read. */
import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answer, api, type Schemas } from "./client";

export type OrderState =
  "open" | "new" | "held" | "planned" | "bench" | "packed" | "cancelled" | "joined";

interface Paged<Row> {
  count: number;
  page: number;
  pages: number;
  results: Row[];
}

/** All pages of a list as one: the first, then the others at the same time. */
export async function everyPage<Row>(
  ask: (page: number) => Promise<Paged<Row>>,
): Promise<Paged<Row>> {
  const first = await ask(1);
  const others = await Promise.all(Array.from({ length: first.pages - 1 }, (_, at) => ask(at + 2)));
  const results = [first, ...others].flatMap((one) => one.results);
  return { count: first.count, page: 1, pages: 1, results };
}

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

/** What is still needed for the first parcel. */
export const firstParcel = () =>
  queryOptions({
    queryKey: ["first-parcel"],
    queryFn: () => answer(api.GET("/api/first-parcel")),
    refetchInterval: 10_000,
  });

/** Ordinary supplies to start from. */
export const starterShelf = () =>
  queryOptions({
    queryKey: ["starter"],
    queryFn: () => answer(api.GET("/api/supplies/starter")),
  });

/** Figures of judgement, and the workshop itself. */
export const settings = () =>
  queryOptions({ queryKey: ["settings"], queryFn: () => answer(api.GET("/api/settings")) });

export const settingsHistory = (page: number) =>
  queryOptions({
    queryKey: ["settings", "history", page],
    queryFn: () =>
      answer(api.GET("/api/settings/history", { params: { query: { page, page_size: 20 } } })),
  });

/** What these values would do to open orders; nothing is saved. */
export const settingsEffect = (values: Record<string, string> | null) =>
  queryOptions({
    queryKey: ["settings-effect", values],
    queryFn: () =>
      answer(
        api.POST("/api/settings/effect", { body: { values: values as Record<string, string> } }),
      ),
    enabled: values !== null,
    placeholderData: keepPreviousData,
    retry: false,
  });

export const workshop = () =>
  queryOptions({ queryKey: ["workshop"], queryFn: () => answer(api.GET("/api/workshop")) });

/** Who ordered before, by part of the name. */
export const buyers = (find: string) =>
  queryOptions({
    queryKey: ["buyers", find],
    queryFn: () => answer(api.GET("/api/buyers", { params: { query: { find } } })),
    enabled: find.trim().length > 1,
    staleTime: 10_000,
  });

/** Where one is signed in. */
export const places = () =>
  queryOptions({
    queryKey: ["places"],
    queryFn: () =>
      answer(api.GET("/api/session/places", { params: { query: { page_size: 200 } } })),
  });

/** The people of the workshop: the owner sees them. */
export const members = () =>
  queryOptions({
    queryKey: ["members"],
    queryFn: () => answer(api.GET("/api/members", { params: { query: { page_size: 200 } } })),
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

/** Connected channels: asked each minute by the worker, so looked at again now and then. */
export const channelLinks = () =>
  queryOptions({
    queryKey: ["channel-links"],
    queryFn: () => answer(api.GET("/api/channel-links")),
    refetchInterval: 20_000,
  });

export const tokens = () =>
  queryOptions({
    queryKey: ["tokens"],
    queryFn: () => answer(api.GET("/api/tokens", { params: { query: { page_size: 100 } } })),
  });

export const orderPlan = (id: number) =>
  queryOptions({
    queryKey: ["plan", id],
    queryFn: () =>
      answer(api.GET("/api/orders/{order_id}/plan", { params: { path: { order_id: id } } })),
  });

/** Planning in the background; asked again each second while it runs. */
export const wave = () =>
  queryOptions({
    queryKey: ["wave"],
    queryFn: () => answer(api.GET("/api/plans/wave")),
    refetchInterval: (query) => (query.state.data?.running ? 1000 : false),
  });

export const planRoom = (id: number) =>
  queryOptions({
    queryKey: ["plan", id, "room"],
    queryFn: () =>
      answer(api.GET("/api/orders/{order_id}/plan/room", { params: { path: { order_id: id } } })),
  });

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

export const recipes = () =>
  queryOptions({
    queryKey: ["recipes"],
    queryFn: () =>
      everyPage((page) =>
        answer(api.GET("/api/recipes", { params: { query: { page, page_size: 200 } } })),
      ),
  });

export const recipe = (id: number) =>
  queryOptions({
    queryKey: ["recipe", id],
    queryFn: () =>
      answer(api.GET("/api/recipes/{recipe_id}", { params: { path: { recipe_id: id } } })),
  });

export const versions = (id: number) =>
  queryOptions({
    queryKey: ["versions", id],
    queryFn: () =>
      answer(api.GET("/api/recipes/{recipe_id}/versions", { params: { path: { recipe_id: id } } })),
  });

export const products = () =>
  queryOptions({
    queryKey: ["products"],
    queryFn: () =>
      everyPage((page) =>
        answer(api.GET("/api/products", { params: { query: { page, page_size: 200 } } })),
      ),
  });

/** Products by part of their name or sku. */
export const productsLike = (find: string) =>
  queryOptions({
    queryKey: ["products", "like", find],
    queryFn: () => answer(api.GET("/api/products", { params: { query: { find, page_size: 20 } } })),
    placeholderData: keepPreviousData,
  });

export const retiredProducts = () =>
  queryOptions({
    queryKey: ["products", "retired"],
    queryFn: () =>
      answer(api.GET("/api/products", { params: { query: { page_size: 200, retired: true } } })),
  });

export const retiredRecipes = () =>
  queryOptions({
    queryKey: ["recipes", "retired"],
    queryFn: () =>
      answer(api.GET("/api/recipes", { params: { query: { page_size: 200, retired: true } } })),
  });

/** What stands on each shelf that was named. */
export const shelves = () =>
  queryOptions({ queryKey: ["shelves"], queryFn: () => answer(api.GET("/api/shelves")) });

export const product = (id: number) =>
  queryOptions({
    queryKey: ["product", id],
    queryFn: () =>
      answer(api.GET("/api/products/{product_id}", { params: { path: { product_id: id } } })),
  });

export const crafts = () =>
  queryOptions({
    queryKey: ["crafts"],
    queryFn: () => answer(api.GET("/api/crafts")),
    staleTime: 600_000,
  });

export const readiness = (page: number) =>
  queryOptions({
    queryKey: ["readiness", page],
    queryFn: () =>
      answer(api.GET("/api/readiness", { params: { query: { page, page_size: 100 } } })),
  });

export const policies = () =>
  queryOptions({ queryKey: ["policies"], queryFn: () => answer(api.GET("/api/policies")) });

export const policyEffect = (policy: string) =>
  queryOptions({
    queryKey: ["policies", policy],
    queryFn: () =>
      answer(api.GET("/api/policies/{policy}/effect", { params: { path: { policy } } })),
  });

export const trials = (id: number) =>
  queryOptions({
    queryKey: ["trials", id],
    queryFn: () =>
      answer(
        api.GET("/api/recipes/{recipe_id}/trials", {
          params: { path: { recipe_id: id }, query: { page_size: 50 } },
        }),
      ),
  });

export const compareVersions = (id: number, before: number, after: number) =>
  queryOptions({
    queryKey: ["compare", id, before, after],
    queryFn: () =>
      answer(
        api.GET("/api/recipes/{recipe_id}/compare/{before}/{after}", {
          params: { path: { recipe_id: id, before, after } },
        }),
      ),
  });

export const readyParcels = () =>
  queryOptions({
    queryKey: ["ready-parcels"],
    queryFn: () => answer(api.GET("/api/ready-parcels", { params: { query: { page_size: 200 } } })),
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

export const unitCosts = (product: number, country: string, postcode: string, most: number) =>
  queryOptions({
    queryKey: ["unit-costs", product, country, postcode, most],
    queryFn: () =>
      answer(
        api.GET("/api/products/{product_id}/unit-costs", {
          params: { path: { product_id: product }, query: { country, postcode, most } },
        }),
      ),
    enabled: product > 0,
    placeholderData: keepPreviousData,
    retry: false,
  });

export const recipeSteps = (id: number) =>
  queryOptions({
    queryKey: ["recipe", id, "steps"],
    queryFn: () =>
      answer(api.GET("/api/recipes/{recipe_id}/steps", { params: { path: { recipe_id: id } } })),
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

/** The day moves on by itself: it is asked for again while it is looked at. */
export const day = () =>
  queryOptions({
    queryKey: ["day"],
    queryFn: () => answer(api.GET("/api/day")),
    refetchInterval: 20_000,
  });

/** Where an order could go instead, each quoted for its day. */
export const dayMoves = (id: number) =>
  queryOptions({
    queryKey: ["day", "moves", id],
    queryFn: () =>
      answer(api.GET("/api/day/orders/{order_id}/moves", { params: { path: { order_id: id } } })),
    retry: false,
  });

/** What is carried up for these parcels. */
export const gather = (keys: string) =>
  queryOptions({
    queryKey: ["gather", keys],
    queryFn: () => answer(api.GET("/api/day/gather", { params: { query: { parcels: keys } } })),
    enabled: keys !== "",
    retry: false,
  });

export const dayTimes = () =>
  queryOptions({ queryKey: ["day-times"], queryFn: () => answer(api.GET("/api/day/times")) });

/** Another table scans, too: asked for again while it is looked at. */
export const sendOff = () =>
  queryOptions({
    queryKey: ["send-off"],
    queryFn: () => answer(api.GET("/api/send-off")),
    refetchInterval: 10_000,
  });

export const printer = () =>
  queryOptions({
    queryKey: ["printer"],
    queryFn: () => answer(api.GET("/api/printer")),
    refetchInterval: 15_000,
  });

/** Orders that are set aside. */
export const holds = (page: number) =>
  queryOptions({
    queryKey: ["orders", "holds", page],
    queryFn: () => answer(api.GET("/api/holds", { params: { query: { page, page_size: 50 } } })),
    placeholderData: keepPreviousData,
  });

/** What is done with orders whose payment is at risk. */
export const riskActions = () =>
  queryOptions({ queryKey: ["risk-actions"], queryFn: () => answer(api.GET("/api/holds/risks")) });

/** What the parcels of a wave begin with, done for all at once. */
export const together = (parcels: string) =>
  queryOptions({
    queryKey: ["parcels", "together", parcels],
    queryFn: () => answer(api.GET("/api/bench/together", { params: { query: { parcels } } })),
    enabled: parcels !== "",
    refetchOnWindowFocus: false,
    retry: false,
  });
