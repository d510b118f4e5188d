/** The rooms of money, fetched together. */
export { ChargesScreen } from "./ChargesScreen";
export { LeftScreen } from "./LeftScreen";
export { RecordScreen } from "./RecordScreen";
export { WhatIfScreen } from "./WhatIfScreen";
