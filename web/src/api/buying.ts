/** Buying: what is read and what is written, each with what it makes stale. */
import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answer, api, type Schemas } from "./client";
import { write } from "./writing";
import { everyPage } from "./reading";

export const covers = () =>
  queryOptions({ queryKey: ["cover"], queryFn: () => answer(api.GET("/api/buying/cover")) });

export const outlook = (id: number) =>
  queryOptions({
    queryKey: ["cover", id],
    queryFn: () =>
      answer(api.GET("/api/buying/supplies/{supply_id}", { params: { path: { supply_id: id } } })),
    placeholderData: keepPreviousData,
  });

/** The list as a person changed it: asked for, not written. */
export const buyList = (body: Schemas["BuyListIn"]) =>
  queryOptions({
    queryKey: ["cover", "list", body],
    queryFn: () => answer(api.POST("/api/buying/list", { body })),
    placeholderData: keepPreviousData,
  });

export const asleep = () =>
  queryOptions({
    queryKey: ["cover", "asleep"],
    queryFn: () => answer(api.GET("/api/buying/asleep")),
  });

export const buyingSettings = () =>
  queryOptions({
    queryKey: ["buying-settings"],
    queryFn: () => answer(api.GET("/api/buying/settings")),
  });

export const suppliers = () =>
  queryOptions({
    queryKey: ["suppliers"],
    queryFn: () =>
      everyPage((page) =>
        answer(api.GET("/api/suppliers", { params: { query: { page, page_size: 200 } } })),
      ),
  });

export const purchases = (state: string, page: number) =>
  queryOptions({
    queryKey: ["purchases", state, page],
    queryFn: () =>
      answer(api.GET("/api/purchases", { params: { query: { state, page, page_size: 20 } } })),
    placeholderData: keepPreviousData,
  });

export const countSession = (id: number) =>
  queryOptions({
    queryKey: ["counts", id],
    queryFn: () =>
      answer(api.GET("/api/counts/{session_id}", { params: { path: { session_id: id } } })),
    refetchInterval: 15_000,
  });

export const countSessions = () =>
  queryOptions({
    queryKey: ["counts"],
    queryFn: () => answer(api.GET("/api/counts", { params: { query: { page_size: 20 } } })),
  });

export const cartonReports = () =>
  queryOptions({
    queryKey: ["carton-reports"],
    queryFn: () => answer(api.GET("/api/buying/cartons", { params: { query: { page_size: 10 } } })),
    refetchInterval: (query) =>
      query.state.data?.results.some((one) => one.state === "waiting" || one.state === "running")
        ? 2_000
        : false,
  });

/** Orders that wait for a supply, by its id. */
export const waitingOrders = () =>
  queryOptions({
    queryKey: ["orders", "waiting-for"],
    queryFn: () => answer(api.GET("/api/buying/waiting")),
  });

const SHELVES = [["supplies"], ["entries"], ["cover"], ["plan"], ["orders"], ["day"]] as const;

export const orderFromSupplier = () =>
  write((body: Schemas["PurchaseIn"]) => answer(api.POST("/api/purchases", { body })), {
    stale: [["purchases"], ["cover"]],
  });

export const receivePurchase = () =>
  write(
    ({ id, body }: { id: number; body: Schemas["ReceivePurchaseIn"] }) =>
      answer(
        api.POST("/api/purchases/{purchase_id}/receive", {
          params: { path: { purchase_id: id } },
          body,
        }),
      ),
    { stale: [["purchases"], ...SHELVES] },
  );

export const expectPurchase = () =>
  write(
    ({ id, expected_on }: { id: number; expected_on: string }) =>
      answer(
        api.POST("/api/purchases/{purchase_id}/expect", {
          params: { path: { purchase_id: id } },
          body: { expected_on },
        }),
      ),
    { stale: [["purchases"], ["cover"], ["orders"]] },
  );

export const cancelPurchase = () =>
  write(
    (id: number) =>
      answer(
        api.POST("/api/purchases/{purchase_id}/cancel", { params: { path: { purchase_id: id } } }),
      ),
    { stale: [["purchases"], ["cover"], ["orders"]] },
  );

export const saveSupplier = () =>
  write(
    ({ id, body }: { id: number | null; body: Schemas["SupplierDoc"] }) =>
      id === null
        ? answer(api.POST("/api/suppliers", { body }))
        : answer(
            api.PUT("/api/suppliers/{supplier_id}", {
              params: { path: { supplier_id: id } },
              body,
            }),
          ),
    { stale: [["suppliers"], ["cover"]] },
  );

export const retireSupplier = () =>
  write(
    (id: number) =>
      answer(api.DELETE("/api/suppliers/{supplier_id}", { params: { path: { supplier_id: id } } })),
    { stale: [["suppliers"], ["cover"]] },
  );

export const saveOffer = () =>
  write(
    ({
      supplier,
      supply,
      body,
    }: {
      supplier: number;
      supply: number;
      body: Schemas["SupplyOfferDoc"];
    }) =>
      answer(
        api.PUT("/api/suppliers/{supplier_id}/offers/{supply_id}", {
          params: { path: { supplier_id: supplier, supply_id: supply } },
          body,
        }),
      ),
    { stale: [["suppliers"], ["cover"]] },
  );

export const dropOffer = () =>
  write(
    ({ supplier, supply }: { supplier: number; supply: number }) =>
      answer(
        api.DELETE("/api/suppliers/{supplier_id}/offers/{supply_id}", {
          params: { path: { supplier_id: supplier, supply_id: supply } },
        }),
      ),
    { stale: [["suppliers"], ["cover"]] },
  );

export const saveBuyingSettings = () =>
  write((body: Schemas["BuyingSettingsDoc"]) => answer(api.PUT("/api/buying/settings", { body })), {
    stale: [["buying-settings"], ["cover"]],
  });

export const setPlace = () =>
  write(
    ({ id, body }: { id: number; body: Schemas["SlotPlaceIn"] }) =>
      answer(
        api.PUT("/api/buying/supplies/{supply_id}/place", {
          params: { path: { supply_id: id } },
          body,
        }),
      ),
    { stale: [["cover"], ["supplies"]] },
  );

export const convertSupplies = () =>
  write((body: Schemas["ConvertIn"]) => answer(api.POST("/api/supplies/convert", { body })), {
    stale: SHELVES,
  });

export const spoilSupply = () =>
  write(
    ({ id, body }: { id: number; body: Schemas["SpoilIn"] }) =>
      answer(
        api.POST("/api/supplies/{supply_id}/spoil", { params: { path: { supply_id: id } }, body }),
      ),
    { stale: SHELVES },
  );

export const beginCount = () =>
  write((shelf: string) => answer(api.POST("/api/counts", { body: { shelf } })), {
    stale: [["counts"]],
  });

export const countLine = () =>
  write(
    ({ id, body }: { id: number; body: Schemas["CountLineIn"] }) =>
      answer(
        api.POST("/api/counts/{session_id}/lines", { params: { path: { session_id: id } }, body }),
      ),
    {
      stale: SHELVES,
      keep: (client, now) => client.setQueryData(countSession(now.id).queryKey, now),
    },
  );

export const closeCount = () =>
  write(
    (id: number) =>
      answer(api.POST("/api/counts/{session_id}/close", { params: { path: { session_id: id } } })),
    { stale: [["counts"]] },
  );

export const beginCartons = () =>
  write((body: Schemas["CartonsIn"]) => answer(api.POST("/api/buying/cartons", { body })), {
    stale: [["carton-reports"]],
  });

export const cancelCartons = () =>
  write(
    (id: number) =>
      answer(
        api.DELETE("/api/buying/cartons/{report_id}", { params: { path: { report_id: id } } }),
      ),
    { stale: [["carton-reports"]] },
  );
