/** The rooms of arrivals, fetched together. */
export { CarriersScreen } from "./CarriersScreen";
export { ClaimsScreen } from "./ClaimsScreen";
export { LearnedScreen } from "./LearnedScreen";
export { ParcelsScreen } from "./ParcelsScreen";
export { TrialsScreen } from "./TrialsScreen";
export { WhereScreen } from "./WhereScreen";
