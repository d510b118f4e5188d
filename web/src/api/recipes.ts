/** Products, recipes and their versions, policies. */
import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { answer, api, type Schemas } from "./client";
import { everyPage } from "./reading";
import { PLANS, RECIPES, PRODUCTS, write } from "./writing";

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

/** The most of goods each container takes: asked for, not written. */
export const fits = (goods: Schemas["FitGoods"][]) =>
  queryOptions({
    queryKey: ["fits", goods],
    queryFn: () => answer(api.POST("/api/fits", { body: { goods } })),
    enabled: goods.length > 0,
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
