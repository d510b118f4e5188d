/** Money: what is read and what is written, each with what it makes stale. */
import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answer, api, type Schemas } from "./client";
import { everyPage } from "./reading";
import { write } from "./writing";

export const moneyMonths = () =>
  queryOptions({
    queryKey: ["money", "months"],
    queryFn: () => answer(api.GET("/api/money/months")),
  });

export const moneyMonth = (month: string) =>
  queryOptions({
    queryKey: ["money", "month", month],
    queryFn: () => answer(api.GET("/api/money/months/{month}", { params: { path: { month } } })),
    enabled: month !== "",
    placeholderData: keepPreviousData,
  });

export const moneyOrder = (id: number) =>
  queryOptions({
    queryKey: ["money", "order", id],
    queryFn: () =>
      answer(api.GET("/api/money/orders/{order_id}", { params: { path: { order_id: id } } })),
    enabled: id > 0,
    placeholderData: keepPreviousData,
  });

export const fees = () =>
  queryOptions({
    queryKey: ["money", "fees"],
    queryFn: () =>
      everyPage((page) =>
        answer(api.GET("/api/money/fees", { params: { query: { page, page_size: 200 } } })),
      ),
  });

export const moneySettings = () =>
  queryOptions({
    queryKey: ["money", "settings"],
    queryFn: () => answer(api.GET("/api/money/settings")),
  });

export const charges = (weeks: number) =>
  queryOptions({
    queryKey: ["money", "charges", weeks],
    queryFn: () => answer(api.GET("/api/money/charges", { params: { query: { weeks } } })),
    placeholderData: keepPreviousData,
  });

export const comparedCharges = () =>
  queryOptions({
    queryKey: ["money", "compared"],
    queryFn: () => answer(api.GET("/api/money/charges/compared")),
  });

/** A policy that is not kept, over the orders of some weeks: asked for, not written. */
export const policyRun = (weeks: number, policy: Schemas["PolicyDoc"] | null) =>
  queryOptions({
    queryKey: ["money", "run", weeks, policy],
    queryFn: () =>
      answer(
        api.POST("/api/money/charges/runs", {
          body: { weeks, policies: policy === null ? [] : [policy] },
        }),
      ),
    enabled: policy !== null,
    placeholderData: keepPreviousData,
  });

/** The least sum from which postage may be free when that may cost so much: asked for, not written. */
export const thresholdCosting = (
  weeks: number,
  policy: Schemas["PolicyDoc"] | null,
  may_cost: string | null,
) =>
  queryOptions({
    queryKey: ["money", "threshold", weeks, policy, may_cost],
    queryFn: () =>
      policy === null || may_cost === null
        ? null
        : answer(api.POST("/api/money/charges/threshold", { body: { weeks, policy, may_cost } })),
    enabled: policy !== null && may_cost !== null,
    placeholderData: keepPreviousData,
  });

export const whatIfs = () =>
  queryOptions({
    queryKey: ["what-ifs"],
    queryFn: () => answer(api.GET("/api/money/what-ifs", { params: { query: { page_size: 30 } } })),
    refetchInterval: (query) =>
      query.state.data?.results.some((one) => one.state === "waiting" || one.state === "running")
        ? 1_500
        : false,
  });

export const whatIf = (id: number) =>
  queryOptions({
    queryKey: ["what-ifs", id],
    queryFn: () =>
      answer(api.GET("/api/money/what-ifs/{what_if_id}", { params: { path: { what_if_id: id } } })),
    enabled: id > 0,
    refetchInterval: (query) =>
      query.state.data?.state === "waiting" || query.state.data?.state === "running" ? 700 : false,
  });

export const unitsLeft = (product: number, price: string) =>
  queryOptions({
    queryKey: ["money", "units-left", product, price],
    queryFn: () =>
      answer(
        api.GET("/api/money/products/{product_id}/left", {
          params: { path: { product_id: product }, query: price === "" ? {} : { price } },
        }),
      ),
    enabled: product > 0,
    placeholderData: keepPreviousData,
  });

const MONEY = [["money"]] as const;

export const closeMonth = () =>
  write(
    (month: string) =>
      answer(api.POST("/api/money/months/{month}/closed", { params: { path: { month } } })),
    { stale: MONEY },
  );

export const openMonth = () =>
  write(
    (month: string) =>
      answer(api.DELETE("/api/money/months/{month}/closed", { params: { path: { month } } })),
    { stale: MONEY },
  );

export const addFee = () =>
  write((body: Schemas["FeeIn"]) => answer(api.POST("/api/money/fees", { body })), {
    stale: MONEY,
  });

export const deleteFee = () =>
  write(
    (id: number) =>
      answer(api.DELETE("/api/money/fees/{fee_id}", { params: { path: { fee_id: id } } })),
    { stale: MONEY },
  );

export const saveMoneySettings = () =>
  write((body: Schemas["MoneySettingsDoc"]) => answer(api.PUT("/api/money/settings", { body })), {
    stale: MONEY,
  });

export const savePolicy = () =>
  write((body: Schemas["ChargePolicyIn"]) => answer(api.POST("/api/money/policies", { body })), {
    stale: MONEY,
  });

export const deletePolicy = () =>
  write(
    (id: number) =>
      answer(
        api.DELETE("/api/money/policies/{policy_id}", { params: { path: { policy_id: id } } }),
      ),
    { stale: MONEY },
  );

export const makeOurs = () =>
  write(
    ({ id, from_day }: { id: number; from_day: string | null }) =>
      answer(
        api.PUT("/api/money/policies/{policy_id}/ours", {
          params: { path: { policy_id: id } },
          body: { from_day },
        }),
      ),
    { stale: MONEY },
  );

export const beginWhatIf = () =>
  write((body: Schemas["WhatIfAsked"]) => answer(api.POST("/api/money/what-ifs", { body })), {
    stale: [["what-ifs"]],
  });

export const cancelWhatIf = () =>
  write(
    (id: number) =>
      answer(
        api.POST("/api/money/what-ifs/{what_if_id}/cancel", {
          params: { path: { what_if_id: id } },
        }),
      ),
    { stale: [["what-ifs"]] },
  );

export const keepWhatIf = () =>
  write(
    ({ id, name }: { id: number; name: string }) =>
      answer(
        api.PUT("/api/money/what-ifs/{what_if_id}/kept", {
          params: { path: { what_if_id: id } },
          body: { name },
        }),
      ),
    { stale: [["what-ifs"]] },
  );

export const deleteWhatIf = () =>
  write(
    (id: number) =>
      answer(
        api.DELETE("/api/money/what-ifs/{what_if_id}", { params: { path: { what_if_id: id } } }),
      ),
    { stale: [["what-ifs"]] },
  );
