/** Which screen stands at which path. Each is fetched when it is first opened. */
import { lazy, type ComponentType, type LazyExoticComponent } from "react";

interface Place {
  path: string;
  Screen: LazyExoticComponent<ComponentType>;
  /** Without the rail: the whole window is the screen's. */
  alone?: boolean;
}

/** A screen of a module by its name. */
function screen<Name extends string>(load: () => Promise<Record<Name, ComponentType>>, name: Name) {
  return lazy(async () => ({ default: (await load())[name] }));
}

export const PLACES: readonly Place[] = [
  {
    path: "/orders",
    Screen: screen(() => import("../screens/orders/Screen"), "OrdersScreen"),
  },
  {
    path: "/orders/intake",
    Screen: screen(() => import("../screens/orders/IntakeScreen"), "IntakeScreen"),
  },
  { path: "/plan", Screen: screen(() => import("../screens/plan/Queue"), "PlanQueue") },
  { path: "/plan/:orderId", Screen: screen(() => import("../screens/plan/Screen"), "PlanScreen") },
  {
    path: "/bench",
    Screen: screen(() => import("../screens/bench/ListScreen"), "BenchListScreen"),
  },
  {
    path: "/bench/:parcelId",
    alone: true,
    Screen: screen(() => import("../screens/bench/Screen"), "BenchScreen"),
  },
  {
    path: "/cupboard",
    Screen: screen(() => import("../screens/cupboard/Screen"), "CupboardScreen"),
  },
  {
    path: "/recipes",
    Screen: screen(() => import("../screens/recipes/ListScreen"), "RecipesScreen"),
  },
  {
    path: "/recipes/new",
    Screen: screen(() => import("../screens/recipes/NewScreen"), "NewRecipeScreen"),
  },
  {
    path: "/recipes/:recipeId",
    Screen: screen(() => import("../screens/recipes/Screen"), "RecipeScreen"),
  },
  {
    path: "/products",
    Screen: screen(() => import("../screens/products/Screen"), "ProductsScreen"),
  },
  {
    path: "/readiness",
    Screen: screen(() => import("../screens/readiness/Screen"), "ReadinessScreen"),
  },
  {
    path: "/policies",
    Screen: screen(() => import("../screens/policies/Screen"), "PoliciesScreen"),
  },
  {
    path: "/rates",
    Screen: screen(() => import("../screens/rates/CompareScreen"), "CompareScreen"),
  },
  {
    path: "/rates/tariffs",
    Screen: screen(() => import("../screens/rates/TariffsScreen"), "TariffsScreen"),
  },
  {
    path: "/rates/coming",
    Screen: screen(() => import("../screens/rates/ComingScreen"), "ComingScreen"),
  },
  {
    path: "/rates/each",
    Screen: screen(() => import("../screens/rates/EachScreen"), "EachScreen"),
  },
  {
    path: "/rates/choosing",
    Screen: screen(() => import("../screens/rates/ChoosingScreen"), "ChoosingScreen"),
  },
];

export const SignInScreen = screen(() => import("../screens/sign-in/Screen"), "SignInScreen");
