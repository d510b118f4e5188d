/** The buyer's page: one parcel by the code of its slip, without signing in. */
import { queryOptions } from "@tanstack/react-query";
import { answer, api, type Schemas } from "./client";
import { write } from "./writing";

export const buyerPage = (code: string) =>
  queryOptions({
    queryKey: ["arrived", code],
    queryFn: () => answer(api.GET("/api/arrived/{code}", { params: { path: { code } } })),
    retry: false,
  });

export const tellArrival = (code: string) =>
  write(
    (body: Schemas["BuyerAnswerIn"]) =>
      answer(api.POST("/api/arrived/{code}", { params: { path: { code } }, body })),
    { stale: [["arrived", code]] },
  );
