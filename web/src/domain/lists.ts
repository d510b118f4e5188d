/** What the core defines and the screens need before they ask: held to it by tests/server/test_house. No React. */

/** How far tape reaches over the edge unless the recipe says otherwise. */
export const TAPE_OVERHANG_UM = 65_000;
