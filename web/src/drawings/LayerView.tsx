/** The placed units seen at a slant, one layer at a time, numbered in packing order; void stays visible. */
import { fixed } from "../domain/figures";
import { CushionPattern } from "./Cushion";
import { frameOf, paintOrder, project, units, type Unit } from "./slant";
import type { Drawn, Layer } from "./types";
import { useSize } from "./useWidth";

type Size = ReturnType<typeof frameOf>["size"];

interface Props {
  parcel: Drawn;
  layers: readonly Layer[];
  at: number; // index of the layer shown
  names: Record<string, string>;
  dimensions: { length: string; width: string; height: string };
}

const WIDE = { least: 340, most: 760 };
const HIGH = { least: 260, most: 520 };

export function LayerView({ parcel, layers, at, names, dimensions }: Props) {
  const { size, inset } = frameOf(parcel);
  const [box, wide, high] = useSize<HTMLDivElement>(WIDE, HIGH);
  const view = project(size, wide - 150, high - 66);
  const all = units(parcel);
  const shown = layers[at];
  const unitLayer = new Map<number, number>();
  layers.forEach((layer, index) => {
    if (layer.kind === "units") layer.placements.forEach((p) => unitLayer.set(p, index));
  });
  const nestedShown = parcel.nested
    ? layers.findIndex((layer) => layer.kind === "inner") <= at
    : false;
  const p = (x: number, y: number, z: number) =>
    view
      .point(x, y, z)
      .map((n) => fixed(n, 1))
      .join(",");
  const inside = (x: number, y: number, z: number) => p(x + inset[0], y + inset[1], z);
  const [l, w, h] = size;
  const cushioned = layers.some((layer, index) => layer.kind === "cushion" && index <= at);
  // Fill is drawn up to where it comes, a closed carton filled to its lid.
  const topped =
    parcel.kind === "carton" &&
    (shown?.kind === "fill" ? shown.to_um : shown?.kind === "close" ? h : 0);
  return (
    <div ref={box} className="h-full w-full">
      <svg
        viewBox={`0 0 ${wide} ${high}`}
        width={wide}
        height={high}
        className="mx-auto block max-h-full max-w-full"
        role="img"
        aria-label={describe(parcel, layers, at, names)}
      >
        <CushionPattern id="cushion-slant" turned={-32} />
        <g strokeLinejoin="round">
          <Walls kind={parcel.kind} size={size} p={p} />
          {cushioned && parcel.floor_um > 0 ? (
            <polygon
              points={`${p(0, 0, parcel.floor_um)} ${p(l, 0, parcel.floor_um)} ${p(l, w, parcel.floor_um)} ${p(0, w, parcel.floor_um)}`}
              fill="url(#cushion-slant)"
              stroke="var(--board-edge)"
              strokeDasharray="2 3"
            />
          ) : null}
          {paintOrder(all).map((unit) => {
            const layer = unitLayer.get(unit.index) ?? 0;
            const state = layer === at ? "now" : layer < at ? "in" : "to come";
            return (
              <Block
                key={unit.index}
                unit={unit}
                state={parcel.nested && nestedShown ? "in" : state}
                point={inside}
              />
            );
          })}
          {parcel.nested ? (
            <Nested
              parcel={parcel}
              point={inside}
              solid={nestedShown}
              filled={shown?.kind === "inner_fill"}
            />
          ) : null}
          {topped ? (
            <polygon
              points={`${p(0, 0, topped)} ${p(l, 0, topped)} ${p(l, w, topped)} ${p(0, w, topped)}`}
              fill="url(#cushion-slant)"
              fillOpacity=".6"
              stroke="none"
            />
          ) : null}
          {parcel.kind === "carton" ? (
            // The front edge: clear, so that near and far are never mistaken.
            <g fill="none" stroke="var(--board-edge)" strokeWidth="2">
              <path d={`M${p(l, 0, 0)} L${p(l, w, 0)} L${p(0, w, 0)}`} />
              <path
                d={`M${p(l, 0, h)} L${p(l, w, h)} L${p(0, w, h)} M${p(l, w, 0)} L${p(l, w, h)}`}
                strokeDasharray="2 5"
                strokeWidth="1.5"
              />
            </g>
          ) : null}
        </g>
        <Dimensions size={size} view={view} words={dimensions} />
      </svg>
    </div>
  );
}

type Corner = (x: number, y: number, z: number) => string;

/** The far walls and the floor. */
function Walls({ kind, size, p }: { kind: Drawn["kind"]; size: Size; p: Corner }) {
  const [l, w, h] = size;
  return (
    <>
      {kind === "carton" ? (
        <>
          <polygon
            points={`${p(0, 0, 0)} ${p(l, 0, 0)} ${p(l, 0, h)} ${p(0, 0, h)}`}
            fill="var(--board-light)"
            stroke="var(--board-edge)"
          />
          <polygon
            points={`${p(0, 0, 0)} ${p(0, w, 0)} ${p(0, w, h)} ${p(0, 0, h)}`}
            fill="var(--board)"
            stroke="var(--board-edge)"
          />
        </>
      ) : null}
      <polygon
        points={`${p(0, 0, 0)} ${p(l, 0, 0)} ${p(l, w, 0)} ${p(0, w, 0)}`}
        fill={kind === "carton" ? "var(--sheet)" : "var(--line)"}
        stroke={kind === "carton" ? "var(--board-edge)" : "var(--line2)"}
      />
    </>
  );
}

function Dimensions({
  size: [l, w, h],
  view,
  words,
}: {
  size: Size;
  view: ReturnType<typeof project>;
  words: Props["dimensions"];
}) {
  return (
    <g fill="var(--ink2)" fontSize="13" fontFamily="var(--font-text)">
      <Dimension
        from={view.point(0, w, 0)}
        to={view.point(l, w, 0)}
        text={words.length}
        side="left"
        down={18}
      />
      <Dimension
        from={view.point(l, w, 0)}
        to={view.point(l, 0, 0)}
        text={words.width}
        side="right"
        down={18}
      />
      <Dimension
        from={view.point(0, w, 0)}
        to={view.point(0, w, h)}
        text={words.height}
        side="left"
        down={4}
      />
    </g>
  );
}

function Block({
  unit,
  state,
  point,
}: {
  unit: Unit;
  state: "now" | "in" | "to come";
  point: (x: number, y: number, z: number) => string;
}) {
  const [x, y, z] = unit.at;
  const [dx, dy, dz] = unit.size;
  const ghost = state === "to come";
  const edge = ghost ? "var(--line2)" : state === "now" ? "var(--ink)" : "var(--ink2)";
  const top = ghost ? "none" : state === "now" ? "var(--sheet)" : "var(--line)";
  const side = ghost ? "none" : state === "now" ? "var(--soft)" : "var(--line)";
  const shade = ghost ? "none" : state === "now" ? "var(--level)" : "var(--line2)";
  const [cx, cy] = point(x + dx / 2, y + dy / 2, z + dz)
    .split(",")
    .map(Number);
  // Many small units: a number never taller than a third of its face.
  const [, back = 0] = point(x, y, z + dz)
    .split(",")
    .map(Number);
  const [, front = 0] = point(x + dx, y + dy, z + dz)
    .split(",")
    .map(Number);
  const letter = Math.max(8, Math.min(state === "now" ? 18 : 14, (front - back) * 0.36));
  const dash = ghost ? { strokeDasharray: "4 4" } : {};
  return (
    <g stroke={edge} strokeWidth={state === "now" ? 1.8 : 1.1}>
      <polygon
        points={`${point(x, y + dy, z)} ${point(x + dx, y + dy, z)} ${point(x + dx, y + dy, z + dz)} ${point(x, y + dy, z + dz)}`}
        fill={side}
        {...dash}
      />
      <polygon
        points={`${point(x + dx, y, z)} ${point(x + dx, y + dy, z)} ${point(x + dx, y + dy, z + dz)} ${point(x + dx, y, z + dz)}`}
        fill={shade}
        {...dash}
      />
      <polygon
        points={`${point(x, y, z + dz)} ${point(x + dx, y, z + dz)} ${point(x + dx, y + dy, z + dz)} ${point(x, y + dy, z + dz)}`}
        fill={top}
        {...dash}
      />
      {ghost ? null : (
        <text
          x={cx}
          y={(cy ?? 0) + letter / 3}
          textAnchor="middle"
          fontSize={letter}
          fontWeight="700"
          fill={state === "now" ? "var(--action)" : "var(--ink2)"}
          stroke="none"
          fontFamily="var(--font-head)"
        >
          {unit.index + 1}
        </text>
      )}
    </g>
  );
}

function Nested({
  parcel,
  point,
  solid,
  filled,
}: {
  parcel: Drawn;
  point: (x: number, y: number, z: number) => string;
  solid: boolean;
  filled: boolean;
}) {
  const at = parcel.placements[0];
  if (!at) return null;
  const [x = 0, y = 0, z = 0] = at.at_um;
  const [dx = 0, dy = 0, dz = 0] = at.size_um;
  return (
    <g
      fill={solid ? "var(--board-light)" : "none"}
      fillOpacity=".55"
      stroke="var(--board-edge)"
      strokeWidth="1.6"
      strokeDasharray={solid ? undefined : "5 4"}
    >
      <polygon
        points={`${point(x, y + dy, z)} ${point(x + dx, y + dy, z)} ${point(x + dx, y + dy, z + dz)} ${point(x, y + dy, z + dz)}`}
      />
      <polygon
        points={`${point(x + dx, y, z)} ${point(x + dx, y + dy, z)} ${point(x + dx, y + dy, z + dz)} ${point(x + dx, y, z + dz)}`}
      />
      <polygon
        points={`${point(x, y, z + dz)} ${point(x + dx, y, z + dz)} ${point(x + dx, y + dy, z + dz)} ${point(x, y + dy, z + dz)}`}
        fill={filled ? "url(#cushion-slant)" : undefined}
      />
    </g>
  );
}

/** What an edge measures, beside its middle and clear of it. */
function Dimension({
  from,
  to,
  text,
  side,
  down,
}: {
  from: [number, number];
  to: [number, number];
  text: string;
  side: "left" | "right";
  down: number;
}) {
  const left = side === "left";
  return (
    <text
      x={(from[0] + to[0]) / 2 + (left ? -8 : 8)}
      y={(from[1] + to[1]) / 2 + down}
      textAnchor={left ? "end" : "start"}
    >
      {text}
    </text>
  );
}

function describe(
  parcel: Drawn,
  layers: readonly Layer[],
  at: number,
  names: Record<string, string>,
): string {
  const counts = new Map<string, number>();
  for (const unit of units(parcel)) counts.set(unit.name, (counts.get(unit.name) ?? 0) + 1);
  const goods = [...counts].map(([sku, count]) => `${count} ${names[sku] ?? sku}`).join(", ");
  const layer = layers[at];
  return `${parcel.container} with ${goods}. ${layer ? `Layer ${at + 1} of ${layers.length}: ${layer.title}, ${layer.detail}.` : ""}`;
}
