/** Which screen stands at which path. Each is fetched when it is first opened. */
import { lazy, type ComponentType, type LazyExoticComponent } from "react";

interface Place {
  path: string;
  Screen: LazyExoticComponent<ComponentType>;
  /** Without the rail: the whole window is the screen's. */
  alone?: boolean;
}

const LOADS: (() => Promise<unknown>)[] = [];

/** A screen of a module by its name. */
function screen<Name extends string>(load: () => Promise<Record<Name, ComponentType>>, name: Name) {
  LOADS.push(load);
  return lazy(async () => ({ default: (await load())[name] }));
}

/** Fetch the other screens while nothing else is to be done: the next one is there when it is opened. */
export async function fetchAhead(): Promise<void> {
  for (const load of LOADS) await load().catch(() => undefined); // it is tried again, and told of, when it is opened
}

const rooms = () => import("../screens/buying/rooms");

const practising = () => import("../screens/practice/rooms");

const money = () => import("../screens/money/rooms");

const arriving = () => import("../screens/arrivals/rooms");

export const PLACES: readonly Place[] = [
  {
    path: "/gather",
    Screen: screen(() => import("../screens/gather/Screen"), "GatherScreen"),
  },
  {
    path: "/send-off",
    Screen: screen(() => import("../screens/send-off/Screen"), "SendOffScreen"),
  },
  { path: "/practice", Screen: screen(practising, "PracticeListScreen") },
  { path: "/practice/:runId", alone: true, Screen: screen(practising, "PracticeScreen") },
  { path: "/arrivals", Screen: screen(arriving, "WhereScreen") },
  { path: "/arrivals/parcels", Screen: screen(arriving, "ParcelsScreen") },
  { path: "/arrivals/trials", Screen: screen(arriving, "TrialsScreen") },
  { path: "/arrivals/claims", Screen: screen(arriving, "ClaimsScreen") },
  { path: "/arrivals/learned", Screen: screen(arriving, "LearnedScreen") },
  { path: "/arrivals/carriers", Screen: screen(arriving, "CarriersScreen") },
  { path: "/money", Screen: screen(money, "LeftScreen") },
  { path: "/money/charges", Screen: screen(money, "ChargesScreen") },
  { path: "/money/record", Screen: screen(money, "RecordScreen") },
  { path: "/money/what-if", Screen: screen(money, "WhatIfScreen") },
  { path: "/money/what-if/:whatIfId", Screen: screen(money, "WhatIfScreen") },
  { path: "/fits", Screen: screen(() => import("../screens/recipes/FitsScreen"), "FitsScreen") },
  {
    path: "/times",
    Screen: screen(() => import("../screens/times/Screen"), "TimesScreen"),
  },
  {
    path: "/prepare",
    Screen: screen(() => import("../screens/prepare/Screen"), "PrepareScreen"),
  },
  { path: "/holds", Screen: screen(() => import("../screens/holds/Screen"), "HoldsScreen") },
  { path: "/day", Screen: screen(() => import("../screens/day/Screen"), "DayScreen") },
  {
    path: "/first-parcel",
    Screen: screen(() => import("../screens/first-parcel/Screen"), "FirstParcelScreen"),
  },
  {
    path: "/orders",
    Screen: screen(() => import("../screens/orders/Screen"), "OrdersScreen"),
  },
  {
    path: "/orders/intake",
    Screen: screen(() => import("../screens/orders/IntakeScreen"), "IntakeScreen"),
  },
  {
    path: "/orders/changes",
    Screen: screen(() => import("../screens/orders/ChangesScreen"), "ChangesScreen"),
  },
  {
    path: "/orders/new",
    Screen: screen(() => import("../screens/orders/TypedScreen"), "NewOrderScreen"),
  },
  {
    path: "/orders/:orderId/change",
    Screen: screen(() => import("../screens/orders/TypedScreen"), "ChangeOrderScreen"),
  },
  { path: "/plan", Screen: screen(() => import("../screens/plan/Queue"), "PlanQueue") },
  { path: "/plan/:orderId", Screen: screen(() => import("../screens/plan/Screen"), "PlanScreen") },
  {
    path: "/bench",
    Screen: screen(() => import("../screens/bench/ListScreen"), "BenchListScreen"),
  },
  {
    path: "/bench/wave",
    alone: true,
    Screen: screen(() => import("../screens/bench/WaveScreen"), "WaveScreen"),
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
  { path: "/cupboard/:supplyId", Screen: screen(rooms, "SupplyScreen") },
  { path: "/buy", Screen: screen(rooms, "BuyScreen") },
  { path: "/purchases", Screen: screen(rooms, "PurchasesScreen") },
  { path: "/count", Screen: screen(rooms, "CountScreen") },
  { path: "/asleep", Screen: screen(rooms, "AsleepScreen") },
  { path: "/cartons", Screen: screen(rooms, "CartonsScreen") },
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
    path: "/settings",
    Screen: screen(() => import("../screens/settings/Screen"), "SettingsScreen"),
  },
  {
    path: "/account",
    Screen: screen(() => import("../screens/account/Screen"), "AccountScreen"),
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
    path: "/rates/tariffs/new",
    Screen: screen(() => import("../screens/rates/BuilderScreen"), "NewTariffScreen"),
  },
  {
    path: "/rates/tariffs/:tariffId/change",
    Screen: screen(() => import("../screens/rates/BuilderScreen"), "ChangeTariffScreen"),
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

export const OneTimeScreen = screen(
  () => import("../screens/account/OneTimeScreen"),
  "OneTimeScreen",
);

/** A buyer's, reached by the code of a slip: for whoever holds it, signed in or not. */
export const ArrivedScreen = screen(() => import("../screens/arrived/Screen"), "ArrivedScreen");

export const BeginScreen = screen(() => import("../screens/begin/Screen"), "BeginScreen");
