/** Heat and cold: what the weather does to an order, ways out, the buyer's word, the freezer, what must be prepared. */
import { queryOptions } from "@tanstack/react-query";
import { answer, api, type Schemas } from "./client";
import { DAY, PLANS, write } from "./writing";

export const orderCare = (id: number) =>
  queryOptions({
    queryKey: ["care", "order", id],
    queryFn: () =>
      answer(api.GET("/api/orders/{order_id}/care", { params: { path: { order_id: id } } })),
  });

/** Open orders that the weather concerns. */
export const careLines = (page: number) =>
  queryOptions({
    queryKey: ["care", "lines", page],
    queryFn: () => answer(api.GET("/api/care", { params: { query: { page } } })),
    refetchInterval: 30_000,
  });

export const freezer = () =>
  queryOptions({ queryKey: ["freezer"], queryFn: () => answer(api.GET("/api/freezer")) });

/** What must be prepared, by time: it moves on by itself. */
export const preparations = () =>
  queryOptions({
    queryKey: ["day", "prepare"],
    queryFn: () => answer(api.GET("/api/day/prepare")),
    refetchInterval: 30_000,
  });

/** Ask the forecast now; what it concerns is planned again in the background. */
export const hearForecast = () =>
  write(() => answer(api.POST("/api/care/forecast")), { stale: [["care"], ...PLANS] });

export const askConsent = (id: number) =>
  write(
    (body: Schemas["ConsentIn"]) =>
      answer(
        api.POST("/api/orders/{order_id}/consent", { params: { path: { order_id: id } }, body }),
      ),
    { stale: [["care", "order", id]] },
  );

export const answerConsent = (id: number) =>
  write(
    (body: Schemas["AnswerIn"]) =>
      answer(
        api.POST("/api/orders/{order_id}/consent/answer", {
          params: { path: { order_id: id } },
          body,
        }),
      ),
    { stale: [["care"], ...PLANS] },
  );

/** Set what is decided for an order of the list: a way out taken, or taken back. */
export const decideCare = () =>
  write(
    ({ id, body }: { id: number; body: Schemas["DecisionsIn"] }) =>
      answer(
        api.POST("/api/orders/{order_id}/plan/decisions", {
          params: { path: { order_id: id } },
          body,
        }),
      ),
    { stale: [["care"], ...PLANS] },
  );

export const freezePacks = () =>
  write((body: Schemas["FreezeIn"]) => answer(api.POST("/api/freezer", { body })), {
    stale: [["freezer"], ...DAY],
  });

export const unfreezePacks = () =>
  write(
    (id: number) =>
      answer(api.DELETE("/api/freezer/{lot_id}", { params: { path: { lot_id: id } } })),
    { stale: [["freezer"], ...DAY] },
  );

export const setCalendar = () =>
  write((body: Schemas["CalendarIn"]) => answer(api.POST("/api/day/calendar", { body })), {
    stale: [["day", "prepare"]],
  });
