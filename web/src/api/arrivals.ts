/** How parcels arrived: lists, answers, where things break, suggestions, trials, claims, carriers. */
import { queryOptions } from "@tanstack/react-query";
import { answer, api, type Schemas } from "./client";
import { PLANS, RECIPES, write } from "./writing";

export type ArrivalShow = "ask" | "way" | "told" | "all";

/** Answers change counts, rates, claims, and with them what plans expect to lose. */
const ARRIVED = [["arrivals"], ["damage"], ["claims"], ["version-trials"], ["rail"]] as const;

export const arrivals = (show: ArrivalShow, find: string, page: number) =>
  queryOptions({
    queryKey: ["arrivals", show, find, page],
    queryFn: () =>
      answer(
        api.GET("/api/arrivals", {
          params: { query: { show, page, ...(find ? { find } : {}) } },
        }),
      ),
  });

export const damageByRecipe = () =>
  queryOptions({
    queryKey: ["damage", "recipes"],
    queryFn: () => answer(api.GET("/api/arrivals/recipes")),
  });

export const recipeDamage = (id: number) =>
  queryOptions({
    queryKey: ["damage", "recipe", id],
    queryFn: () =>
      answer(api.GET("/api/recipes/{recipe_id}/arrivals", { params: { path: { recipe_id: id } } })),
  });

type CauseName = Schemas["SuggestionsOut"]["cause"];

/** Each change is planned again for every order size: it takes a second or two. */
export const suggestions = (id: number, cause: CauseName | "") =>
  queryOptions({
    queryKey: ["damage", "suggestions", id, cause],
    queryFn: () =>
      answer(
        api.GET("/api/recipes/{recipe_id}/suggestions", {
          params: { path: { recipe_id: id }, query: cause ? { cause } : {} },
        }),
      ),
    staleTime: 60_000,
  });

export const takeSuggestion = (id: number) =>
  write(
    (body: Schemas["SuggestionIn"]) =>
      answer(
        api.POST("/api/recipes/{recipe_id}/suggestions", {
          params: { path: { recipe_id: id } },
          body,
        }),
      ),
    { stale: [["recipe"], ...ARRIVED, ...RECIPES, ...PLANS] },
  );

export const answerArrival = () =>
  write(
    ({ id, body }: { id: number; body: Schemas["ArrivalAnswerIn"] }) =>
      answer(
        api.PUT("/api/arrivals/{arrival_id}/answer", {
          params: { path: { arrival_id: id } },
          body,
        }),
      ),
    { stale: [...ARRIVED, ["plan"]] },
  );

export const askCarriers = () =>
  write(() => answer(api.POST("/api/arrivals/ask-carriers")), { stale: ARRIVED });

export const addArrivalPhoto = () =>
  write(
    ({ id, photo }: { id: number; photo: string }) =>
      answer(
        api.POST("/api/arrivals/{arrival_id}/photos", {
          params: { path: { arrival_id: id } },
          body: { photo },
        }),
      ),
    { stale: [["arrivals"], ["claims"]] },
  );

export const deleteArrivalPhoto = () =>
  write(
    (id: number) =>
      answer(api.DELETE("/api/arrival-photos/{photo_id}", { params: { path: { photo_id: id } } })),
    { stale: [["arrivals"], ["claims"]] },
  );

export const versionTrials = (page: number) =>
  queryOptions({
    queryKey: ["version-trials", page],
    queryFn: () => answer(api.GET("/api/version-trials", { params: { query: { page } } })),
  });

export const trialNeeded = (rate: number, hoped: number, versions: number) =>
  queryOptions({
    queryKey: ["version-trials", "needed", rate, hoped, versions],
    queryFn: () =>
      answer(
        api.GET("/api/version-trials/needed", { params: { query: { rate, hoped, versions } } }),
      ),
    enabled: rate !== hoped && [rate, hoped].every((one) => one >= 0 && one <= 1),
    retry: false,
  });

export const beginVersionTrial = () =>
  write((body: Schemas["VersionTrialIn"]) => answer(api.POST("/api/version-trials", { body })), {
    stale: [...ARRIVED, ...PLANS],
  });

export const endVersionTrial = () =>
  write(
    ({ id, take }: { id: number; take: number | null }) =>
      answer(
        api.POST("/api/version-trials/{trial_id}/end", {
          params: { path: { trial_id: id } },
          body: { take },
        }),
      ),
    { stale: [["recipe"], ...ARRIVED, ...RECIPES, ...PLANS] },
  );

export const claims = (page: number) =>
  queryOptions({
    queryKey: ["claims", page],
    queryFn: () => answer(api.GET("/api/claims", { params: { query: { page } } })),
  });

export const saveClaim = () =>
  write(
    ({ id, body }: { id: number; body: Schemas["ClaimIn"] }) =>
      answer(api.PUT("/api/claims/{claim_id}", { params: { path: { claim_id: id } }, body })),
    { stale: [["claims"], ["arrivals"]] },
  );

export const carriersReport = () =>
  queryOptions({
    queryKey: ["arrivals", "carriers"],
    queryFn: () => answer(api.GET("/api/arrivals/carriers")),
  });

export const learned = () =>
  queryOptions({ queryKey: ["learned", "offers"], queryFn: () => answer(api.GET("/api/learned")) });

export const learnedTaken = (page: number) =>
  queryOptions({
    queryKey: ["learned", "taken", page],
    queryFn: () => answer(api.GET("/api/learned/taken", { params: { query: { page } } })),
  });

/** Each order size is planned with both values: it takes a second. */
export const learnedEffects = (body: Schemas["LearnedSubject"]) =>
  queryOptions({
    queryKey: ["learned", "effects", body.kind, body.subject],
    queryFn: () => answer(api.POST("/api/learned/effects", { body })),
    staleTime: 60_000,
  });

const TAKEN = [["learned"], ["recipe"], ["product"], ["products"], ...RECIPES, ...PLANS];

export const takeLearned = () =>
  write((body: Schemas["LearnedTakeIn"]) => answer(api.POST("/api/learned/taken", { body })), {
    stale: TAKEN,
  });

export const undoLearned = () =>
  write(
    (id: number) =>
      answer(
        api.POST("/api/learned/taken/{value_id}/undo", { params: { path: { value_id: id } } }),
      ),
    { stale: TAKEN },
  );

export const previewOutcomes = () =>
  write(
    (body: Schemas["OutcomesFileIn"]) => answer(api.POST("/api/arrivals/import/preview", { body })),
    { stale: [] },
  );

export const importOutcomes = () =>
  write((body: Schemas["OutcomesFileIn"]) => answer(api.POST("/api/arrivals/import", { body })), {
    stale: [...ARRIVED, ["plan"]],
  });
