/** What the drawings are given; lengths um, weights mg. No fetching here. */
export interface Placed {
  unit: string;
  at_um: readonly number[];
  size_um: readonly number[];
}
export interface Layer {
  kind:
    | "cut"
    | "divider"
    | "liner"
    | "packs"
    | "cushion"
    | "units"
    | "inner_fill"
    | "inner"
    | "insert"
    | "fill"
    | "close"
    | "strap";
  title: string;
  detail: string;
  from_um: number;
  to_um: number;
  placements: readonly number[];
  carton?: number;
}
export interface BoxSize {
  length_um: number;
  width_um: number;
  height_um: number;
}
export interface Drawn {
  container: string;
  kind: "carton" | "mailer";
  inner: BoxSize; // of a mailer: its contents as one block
  outer?: BoxSize;
  wall_um: number;
  floor_um: number;
  top_um: number;
  placements: readonly Placed[];
  nested?: {
    code: string;
    name: string;
    inner: BoxSize;
    outer: BoxSize;
    placements: readonly Placed[];
  } | null;
}
