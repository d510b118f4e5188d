/** The day: hand-overs, waves, the printer, what has left. */
import { queryOptions } from "@tanstack/react-query";
import { answer, api, type Schemas } from "./client";
import { STANDING, PLANS, BENCH, DAY, write } from "./writing";

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

/** What is done with orders whose payment is at risk. */
export const riskActions = () =>
  queryOptions({ queryKey: ["risk-actions"], queryFn: () => answer(api.GET("/api/holds/risks")) });

/** Put an order to another hand-over, maybe by another service: it is planned again for that day. */
export const moveOrder = (id: number) =>
  write(
    (body: Schemas["MoveIn"]) =>
      answer(
        api.POST("/api/day/orders/{order_id}/moves", {
          params: { path: { order_id: id } },
          body,
        }),
      ),
    { stale: [...DAY, ...PLANS] },
  );

export const markPrepared = () =>
  write((body: Schemas["PreparedIn"]) => answer(api.POST("/api/day/prepared", { body })), {
    stale: [["freezer"], ...DAY],
  });

export const beginWave = () =>
  write((order_ids: number[]) => answer(api.POST("/api/day/begin", { body: { order_ids } })), {
    stale: [...STANDING, ...BENCH, ["plan"], ["supplies"]],
  });

export const gatherMissing = () =>
  write((body: Schemas["MissingIn"]) => answer(api.POST("/api/day/missing", { body })), {
    stale: [...STANDING, ["gather"], ["plan"]],
  });

export const setDayTimes = () =>
  write((body: Schemas["TimesIn"]) => answer(api.PUT("/api/day/times", { body })), {
    stale: [["day-times"], ...DAY],
  });

export const scanParcel = () =>
  write((body: Schemas["ScanIn"]) => answer(api.POST("/api/send-off/scan", { body })), {
    stale: DAY,
  });

export const undoScan = () =>
  write(
    (parcel_id: number) => answer(api.POST("/api/send-off/scan/undo", { body: { parcel_id } })),
    { stale: DAY },
  );

export const handOver = () =>
  write((body: Schemas["HandOverIn"]) => answer(api.POST("/api/send-off/hand-over", { body })), {
    stale: [...DAY, ["parcels"], ["orders"]],
  });

export const undoHandOver = () =>
  write(
    (id: number) =>
      answer(
        api.POST("/api/send-off/{send_off_id}/undo", { params: { path: { send_off_id: id } } }),
      ),
    { stale: [...DAY, ["parcels"], ["orders"]] },
  );

export const setRiskActions = () =>
  write((body: Schemas["RiskActionsDoc"]) => answer(api.PUT("/api/holds/risks", { body })), {
    stale: [["risk-actions"]],
  });

export const writeHoldNote = () =>
  write(
    ({ id, body }: { id: number; body: Schemas["HoldNoteIn"] }) =>
      answer(api.PUT("/api/holds/{order_id}", { params: { path: { order_id: id } }, body })),
    { stale: [["orders", "holds"], ["day"]] },
  );

export const printLabels = () =>
  write(
    (parcel_ids: number[]) => answer(api.POST("/api/printer/labels", { body: { parcel_ids } })),
    { stale: [["printer"]] },
  );

export const printAgain = () =>
  write(() => answer(api.POST("/api/printer/again")), { stale: [["printer"]] });

export const cancelPrint = () =>
  write(
    (job_id: number) =>
      answer(api.DELETE("/api/printer/jobs/{job_id}", { params: { path: { job_id } } })),
    { stale: [["printer"]] },
  );
