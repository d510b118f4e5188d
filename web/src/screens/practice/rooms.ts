/** Practice, fetched together. */
export { PracticeListScreen } from "./ListScreen";
export { PracticeScreen } from "./Screen";
