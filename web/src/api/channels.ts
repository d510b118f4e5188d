/** Sales channels and other programs. */
import { queryOptions, type QueryKey } from "@tanstack/react-query";
import { answer, api, type Schemas } from "./client";
import { PLANS, write } from "./writing";

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

const CHANNELS: readonly QueryKey[] = [["channel-links"]];

export const connectChannel = () =>
  write((name: string) => answer(api.POST("/api/channel-links", { body: { name } })), {
    stale: CHANNELS,
  });

export const disconnectChannel = () =>
  write(
    (link_id: number) =>
      answer(api.POST("/api/channel-links/{link_id}/off", { params: { path: { link_id } } })),
    { stale: CHANNELS },
  );

export const askChannel = () =>
  write(
    (link_id: number) =>
      answer(api.POST("/api/channel-links/{link_id}/ask", { params: { path: { link_id } } })),
    { stale: [...CHANNELS, ...PLANS] },
  );

/** At the simulated channel: a buyer orders, changes or cancels. */
export const channelHappens = () =>
  write(
    (body: Schemas["HappensIn"]) => answer(api.POST("/api/standins/channel/happens", { body })),
    { stale: [] },
  );

export const makeToken = () =>
  write((body: Schemas["TokenIn"]) => answer(api.POST("/api/tokens", { body })), {
    stale: [["tokens"]],
  });

export const revokeToken = () =>
  write(
    (token_id: number) =>
      answer(api.POST("/api/tokens/{token_id}/revoke", { params: { path: { token_id } } })),
    { stale: [["tokens"]] },
  );
