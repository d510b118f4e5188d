/** Supplies, bands and recipes for the tests of this folder. */
import type { Band, RecipeDoc, Supply } from "./rows";

export const supply = (code: string, kind: string, more: Partial<Supply> = {}): Supply =>
  ({
    id: more.slot ?? 1,
    code,
    name: code,
    kind,
    shelf: "B",
    slot: 1,
    unit: "pieces",
    on_hand: "1",
    reserved: "0",
    free: "1",
    average_cost: "1",
    reorder_at: null,
    facts: {},
    ...more,
  }) as unknown as Supply;

export const layer = (wrap: string, turns = "1", per_units = 1): Band["layers"][number] => ({
  wrap,
  turns,
  ends_top: 1,
  ends_bottom: 1,
  compression: "0.9",
  overlap_um: 50_000,
  per_units,
});

export const band = (first: number, last: number, more: Partial<Band> = {}): Band => ({
  first,
  last,
  layers: [layer("W-TIS"), layer("W-HON", "2")],
  unit_box: null,
  inner: null,
  outers: ["C-05"],
  any_outer: false,
  thermal: null,
  gap_um: 8_000,
  cushion: { bottom_um: 30_000, side_um: 20_000, top_um: 20_000 },
  fill: null,
  proud_percent: 5,
  closure: null,
  inserts: [],
  marks: [],
  school: "fill_tight",
  divider: null,
  minutes: { per_unit: "1", per_parcel: "3", per_order: "0" },
  fill_below: null,
  fill_above: null,
  unit_box_sealed: false,
  steps: [],
  ...more,
});

export const doc = (...bands: Band[]): RecipeDoc => ({
  format: "calm-cupboard/recipe",
  version: 1,
  code: "r",
  name: "R",
  goods_checks: [],
  wrap_note: "",
  proving_checks: [],
  closed_checks: [],
  mailer_checks: [],
  cautions: [],
  bands,
  buyer_note: "",
  ahead: [],
  trial_needed: false,
  mix: [],
});
