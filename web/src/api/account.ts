/** The workshop, its people and its settings. */
import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answer, api, type Schemas } from "./client";
import { begin, session } from "./frame";
import { PLANS, write } from "./writing";

/** What is still needed for the first parcel. */
export const firstParcel = () =>
  queryOptions({
    queryKey: ["first-parcel"],
    queryFn: () => answer(api.GET("/api/first-parcel")),
    refetchInterval: 10_000,
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

export const signIn = () =>
  write((body: Schemas["SignInIn"]) => answer(api.POST("/api/session/sign-in", { body })), {
    stale: [],
    keep: (client, who) => client.setQueryData(session().queryKey, who),
  });

/** A workshop of one's own, and its owner, who is signed in then. */
export const setUpWorkshop = () =>
  write((body: Schemas["SetUpIn"]) => answer(api.POST("/api/begin/workshop", { body })), {
    stale: [["begin"]],
  });

export const loadSample = () =>
  write(() => answer(api.POST("/api/begin/sample")), {
    stale: [],
    keep: (client, now) => client.setQueryData(begin().queryKey, now),
  });

export const loadSampleBeside = () =>
  write(() => answer(api.POST("/api/sample")), {
    stale: [],
    keep: (client, now) => client.setQueryData(begin().queryKey, now),
  });

export const removeSample = () =>
  write(() => answer(api.DELETE("/api/sample")), { stale: [["begin"]] });

export const changePassword = () =>
  write(
    (body: { current: string; new: string }) => answer(api.POST("/api/session/password", { body })),
    {
      stale: [["places"], ["members"]],
      keep: (client, who) => client.setQueryData(session().queryKey, who),
    },
  );

export const endPlace = () =>
  write(
    (place_id: number) =>
      answer(api.DELETE("/api/session/places/{place_id}", { params: { path: { place_id } } })),
    { stale: [["places"], ["members"]] },
  );

export const giveOneTimePassword = () =>
  write(
    (member_id: number) =>
      answer(
        api.POST("/api/members/{member_id}/one-time-password", { params: { path: { member_id } } }),
      ),
    { stale: [["members"]] },
  );

export const addMember = () =>
  write((body: Schemas["NewMemberIn"]) => answer(api.POST("/api/members", { body })), {
    stale: [["members"]],
  });

export const changeMember = () =>
  write(
    ({ id, ...body }: Schemas["MemberIn"] & { id: number }) =>
      answer(api.PUT("/api/members/{member_id}", { params: { path: { member_id: id } }, body })),
    { stale: [["members"]] },
  );

export const saveSettings = () =>
  write(
    (values: Record<string, string>) => answer(api.PUT("/api/settings", { body: { values } })),
    {
      stale: [["settings"], ["readiness"], ...PLANS],
    },
  );

export const saveWorkshop = () =>
  write((body: Schemas["WorkshopIn"]) => answer(api.PUT("/api/workshop", { body })), {
    stale: [["workshop"], ["session"], ["readiness"], ...PLANS],
  });
