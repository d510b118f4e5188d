/**
 * Writes, beside the queries: each sends one thing and names once what it makes stale. Screens add only what they say
 * and where they go next; the query client (app/queryClient) asks again for what is on screen and stale.
 */
import { mutationOptions, type QueryClient, type QueryKey } from "@tanstack/react-query";
import { answer, api, type Schemas } from "./client";
import { begin, choosing, orderPlan, parcel, session, tariffs, wave } from "./queries";

type Parcel = Schemas["ParcelOut"];
type Supply = Schemas["SupplyOut"];

/** What a write says of the queries, kept with the mutation. */
export interface Effect<Got, Sent> {
  /** Queries whose key begins so have changed. */
  stale: readonly QueryKey[] | ((got: Got, sent: Sent) => readonly QueryKey[]);
  /** What the answer already holds, put in its place before anything is asked again. */
  keep?: (client: QueryClient, got: Got, sent: Sent) => void;
}

declare module "@tanstack/react-query" {
  interface Register {
    // The cache hands on what it got and was sent untyped; ``write`` is the only place that makes effects.
    mutationMeta: { effect?: Effect<never, never> };
  }
}

export function write<Got, Sent = void>(
  send: (sent: Sent) => Promise<Got>,
  effect: Effect<NoInfer<Got>, NoInfer<Sent>>,
) {
  return mutationOptions<Got, Error, Sent>({
    mutationFn: send,
    meta: { effect: effect as unknown as Effect<never, never> },
  });
}

/** Where an order stands. */
const STANDING: readonly QueryKey[] = [
  ["orders"],
  ["rail"],
  ["find"],
  ["first-parcel"],
  ["day"],
  ["send-off"],
];
/** What every plan says and reserves. Open orders are planned again in the background, so its count is asked for. */
const PLANS: readonly QueryKey[] = [...STANDING, ["plan"], ["supplies"], ["wave"]];
/** What is told of recipes as a whole: what is missing, which policies they break, what advice recurs. */
const RECIPES: readonly QueryKey[] = [["recipes"], ["readiness"], ["policies"], ["unit-costs"]];
/** What stands on the shelf. */
const STOCK: readonly QueryKey[] = [["supplies"], ["entries"], ["cover"], ["readiness"]];
/** The parcels at the bench and what stands ready. */
const BENCH: readonly QueryKey[] = [["parcels"], ["ready-parcels"], ["day"], ["send-off"]];
/** What leaves today, and what has left. */
const DAY: readonly QueryKey[] = [["day"], ["send-off"], ["rail"]];
const PRODUCTS: readonly QueryKey[] = [["products"], ["product"], ["recipe"], ...RECIPES, ...PLANS];
const PRICES: readonly QueryKey[] = [
  ["tariffs", "list"],
  ["compare-rates"],
  ["unit-costs"],
  ["readiness"],
  ...PLANS,
];

// --- who is signed in -----------------------------------------------------------------------------------------------

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

/** The page is loaded again afterwards: nothing of the old session stays. */
export const signOut = () => write(() => answer(api.DELETE("/api/session")), { stale: [] });

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

// --- orders and their plans -----------------------------------------------------------------------------------------

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

// --- the bench ------------------------------------------------------------------------------------------------------

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

// --- the cupboard ---------------------------------------------------------------------------------------------------

/** One posting to the ledger; ``send`` carries its request key, so that the same posting sent twice counts once. */
export const postStock = () =>
  write((send: () => Promise<Supply>) => send(), { stale: [...STOCK, ...PLANS] });

/** What is on the shelves is others: every plan may come out differently. */
const SHELVES: readonly QueryKey[] = [
  ...STOCK,
  ...PLANS,
  ...RECIPES,
  ["starter"],
  ["first-parcel"],
];

export const addStarter = () =>
  write(
    (supplies: Schemas["SupplyItem"][]) =>
      answer(api.POST("/api/supplies/starter", { body: { supplies } })),
    { stale: SHELVES },
  );

export const saveSupply = (id: number | null) =>
  write(
    (supply: Schemas["SupplyItem"]) =>
      id === null
        ? answer(api.POST("/api/supplies", { body: { supply } }))
        : answer(
            api.PUT("/api/supplies/{supply_id}", {
              params: { path: { supply_id: id } },
              body: { supply },
            }),
          ),
    { stale: SHELVES },
  );

export const arrangeSupply = () =>
  write(
    ({ id, ...body }: Schemas["SlotIn"] & { id: number }) =>
      answer(
        api.POST("/api/supplies/{supply_id}/arrange", {
          params: { path: { supply_id: id } },
          body,
        }),
      ),
    { stale: [["supplies"]] },
  );

export const retireSupply = () =>
  write(
    ({ id, replace_by }: { id: number; replace_by: number | null }) =>
      answer(
        api.POST("/api/supplies/{supply_id}/retire", {
          params: { path: { supply_id: id } },
          body: { replace_by },
        }),
      ),
    { stale: [...SHELVES, ["recipe"], ["versions"]] },
  );

export const nameShelf = () =>
  write(
    ({ letter, name }: { letter: string; name: string }) =>
      answer(api.PUT("/api/shelves/{letter}", { params: { path: { letter } }, body: { name } })),
    { stale: [["shelves"]] },
  );

export const bringBackSupply = () =>
  write(
    (id: number) =>
      answer(
        api.POST("/api/supplies/{supply_id}/bring-back", { params: { path: { supply_id: id } } }),
      ),
    { stale: SHELVES },
  );

// --- products, recipes, policies ------------------------------------------------------------------------------------

interface GivenFile {
  name: string;
  content: string;
}

export const importProducts = () =>
  write((body: GivenFile) => answer(api.POST("/api/products/file", { body })), { stale: PRODUCTS });

export const saveProduct = (id: number | null) =>
  write(
    (product: Schemas["ProductIn"]["product"]) =>
      id === null
        ? answer(api.POST("/api/products", { body: { product } }))
        : answer(
            api.PUT("/api/products/{product_id}", {
              params: { path: { product_id: id } },
              body: { product },
            }),
          ),
    { stale: PRODUCTS },
  );

export const retireProduct = () =>
  write(
    ({ id, retired }: { id: number; retired: boolean }) =>
      answer(
        api.POST("/api/products/{product_id}/retire", {
          params: { path: { product_id: id } },
          body: { retired },
        }),
      ),
    { stale: PRODUCTS },
  );

export const retireRecipe = () =>
  write(
    ({ id, retired }: { id: number; retired: boolean }) =>
      answer(
        api.POST("/api/recipes/{recipe_id}/retire", {
          params: { path: { recipe_id: id } },
          body: { retired },
        }),
      ),
    { stale: [...RECIPES, ["products"]] },
  );

export const savePhoto = (id: number) =>
  write(
    (photo: string) =>
      answer(
        api.PUT("/api/products/{product_id}/photo", {
          params: { path: { product_id: id } },
          body: { photo },
        }),
      ),
    { stale: [["products"], ["product", id]] },
  );

export const importRecipes = () =>
  write((body: GivenFile) => answer(api.POST("/api/recipes/file", { body })), {
    stale: [["recipe"], ["products"], ...RECIPES, ...PLANS],
  });

export const saveRecipe = () =>
  write((body: Schemas["NewRecipeIn"]) => answer(api.POST("/api/recipes", { body })), {
    stale: [["products"], ...RECIPES, ...PLANS],
  });

export const saveVersion = (id: number) =>
  write(
    (body: Schemas["NewVersionIn"]) =>
      answer(
        api.POST("/api/recipes/{recipe_id}/versions", {
          params: { path: { recipe_id: id } },
          body,
        }),
      ),
    { stale: [["recipe", id], ["versions", id], ["compare", id], ...RECIPES, ...PLANS] },
  );

export const addTrial = (id: number) =>
  write(
    (body: Schemas["TrialIn"]) =>
      answer(
        api.POST("/api/recipes/{recipe_id}/trials", { params: { path: { recipe_id: id } }, body }),
      ),
    { stale: [["trials", id], ["recipe", id], ["recipes"], ["readiness"]] },
  );

export const setPolicies = () =>
  write(
    (policies: Schemas["PolicyOut"]["policy"][]) =>
      answer(api.PUT("/api/policies", { body: { policies } })),
    { stale: [["policies"], ["readiness"], ["recipe"]] },
  );

export const followPolicy = (policy: Schemas["PolicyOut"]["policy"]) =>
  write(
    (recipe_ids: number[]) =>
      answer(
        api.POST("/api/policies/{policy}/effect", {
          params: { path: { policy } },
          body: { recipe_ids },
        }),
      ),
    { stale: [["recipe"], ["versions"], ["compare"], ...RECIPES, ...PLANS] },
  );

// --- price lists and how a service is chosen ------------------------------------------------------------------------

export const importTariff = () =>
  write(
    (body: { content: string; replace: boolean }) => answer(api.POST("/api/tariffs", { body })),
    { stale: (done) => [...PRICES, ["tariffs", done.row.id]] },
  );

export const importSteps = (id: number) =>
  write(
    (body: Schemas["StepsIn"]) =>
      answer(
        api.POST("/api/tariffs/{tariff_id}/steps", { params: { path: { tariff_id: id } }, body }),
      ),
    { stale: PRICES },
  );

export const deleteTariff = () =>
  write(
    (id: number) =>
      answer(api.DELETE("/api/tariffs/{tariff_id}", { params: { path: { tariff_id: id } } })),
    {
      // The list without it at once: what was deleted is not asked for again.
      keep: (client, _, id) =>
        client.setQueryData(
          tariffs().queryKey,
          (list) =>
            list && {
              ...list,
              count: list.count - 1,
              results: list.results.filter((row) => row.id !== id),
            },
        ),
      stale: PRICES,
    },
  );

export const saveChoosing = () =>
  write((body: Schemas["Rules"]) => answer(api.PUT("/api/choosing", { body })), {
    keep: (client, now) => client.setQueryData(choosing().queryKey, now),
    stale: PLANS,
  });

// --- channels and other programs ------------------------------------------------------------------------------------

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

// --- the day --------------------------------------------------------------------------------------------------------

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
    stale: DAY,
  });

export const beginWave = () =>
  write((order_ids: number[]) => answer(api.POST("/api/day/begin", { body: { order_ids } })), {
    stale: [...STANDING, ...BENCH, ["plan"], ["supplies"]],
  });

/** The steps a wave shares are done: each parcel goes on with its own. */
export const doneTogether = () =>
  write(
    (parcel_ids: number[]) =>
      answer(api.POST("/api/bench/together/done", { body: { parcel_ids } })),
    { stale: [...BENCH, ["parcel"]] },
  );

export const gatherMissing = () =>
  write((body: Schemas["MissingIn"]) => answer(api.POST("/api/day/missing", { body })), {
    stale: [...STANDING, ["gather"], ["plan"]],
  });

export const setDayTimes = () =>
  write((body: Schemas["TimesIn"]) => answer(api.PUT("/api/day/times", { body })), {
    stale: [["day-times"], ...DAY],
  });

// --- send-off -------------------------------------------------------------------------------------------------------

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

// --- the label printer ----------------------------------------------------------------------------------------------

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
