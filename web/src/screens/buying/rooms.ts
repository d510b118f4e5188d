/** The rooms of the cupboard beside its shelves, fetched together. */
export { AsleepScreen } from "./AsleepScreen";
export { BuyScreen } from "./BuyScreen";
export { CartonsScreen } from "./CartonsScreen";
export { CountScreen } from "./CountScreen";
export { PurchasesScreen } from "./PurchasesScreen";
export { SupplyScreen } from "./SupplyScreen";
