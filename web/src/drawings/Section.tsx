/** The parcel cut from the side: board, cushion, units, fill, inserts, closure, each labelled; the present layer lit. */
import { CushionPattern } from "./Cushion";
import { spread } from "./labels";
import { units } from "./slant";
import type { Drawn, Layer } from "./types";
import { useWidth } from "./useWidth";

interface Props {
  parcel: Drawn;
  layers: readonly Layer[];
  at?: number | undefined;
  done?: number | undefined; // layers before this one are done
  caption?: string | undefined;
}

const LEFT = 14;
/** Beside the cut stand the labels, as wide as their longest. */
const LABELS = 222;
const LEAST = 380;
const MOST = 520;
const HIGH = 350;

export function Section({ parcel, layers, at, done = 0, caption }: Props) {
  const [box, whole] = useWidth<HTMLElement>(LEAST, MOST);
  const room = whole - LABELS - LEFT;
  const { length_um: l, height_um: h } = parcel.inner;
  const wallUm = Math.max(parcel.wall_um, l / 60);
  const scale = Math.min(room / (l + 2 * wallUm), (HIGH - 44) / (h + 2 * wallUm));
  const wide = l * scale;
  const high = h * scale;
  const wall = wallUm * scale;
  const x0 = LEFT + wall + (room - wide - 2 * wall) / 2;
  const y0 = 22 + wall + (HIGH - 44 - high - 2 * wall) / 2;
  const yOf = (um: number) => y0 + high - um * scale;
  const lit = at === undefined ? undefined : layers[at];
  const labels = spread(
    layers.map((layer, index) => ({
      index,
      y: layer.kind === "close" ? y0 - wall / 2 : yOf((layer.from_um + layer.to_um) / 2),
    })),
    27,
    16,
    HIGH - 12,
  );
  const cushion = layers.find((layer) => layer.kind === "cushion");
  const home = parcel.nested ? parcel.placements[0] : undefined;
  const fills = layers.filter((layer) => layer.kind === "fill");
  return (
    <figure ref={box}>
      <svg
        viewBox={`0 0 ${whole} ${HIGH}`}
        width={whole}
        className="block max-w-full"
        role="img"
        aria-label={`Section of ${parcel.container}, from the bottom: ${layers.map((layer) => `${layer.title}, ${layer.detail}`).join("; ")}`}
      >
        <CushionPattern id="cushion-cut" turned={45} />
        <rect
          x={x0}
          y={y0}
          width={wide}
          height={high}
          fill={fills.length > 0 ? "var(--hatch)" : "var(--sheet)"}
        />
        {cushion ? (
          <rect
            x={x0}
            y={yOf(cushion.to_um)}
            width={wide}
            height={(cushion.to_um - cushion.from_um) * scale}
            fill="url(#cushion-cut)"
          />
        ) : null}
        {lit && lit.kind === "fill" ? (
          <rect
            x={x0}
            y={yOf(lit.to_um)}
            width={wide}
            height={(lit.to_um - lit.from_um) * scale}
            fill="url(#cushion-cut)"
          />
        ) : null}
        {home ? (
          <rect
            x={x0 + (home.at_um[0] ?? 0) * scale}
            y={yOf(parcel.top_um)}
            width={(home.size_um[0] ?? 0) * scale}
            height={(parcel.top_um - parcel.floor_um) * scale}
            fill={innerFillOf(layers, lit)}
            stroke="var(--board-edge)"
            strokeWidth="4"
          />
        ) : null}
        <Units
          parcel={parcel}
          layers={layers}
          at={at}
          done={done}
          x0={x0}
          yOf={yOf}
          scale={scale}
        />
        {layers.map((layer, index) =>
          layer.kind === "insert" && layer.from_um > 0 ? (
            <path
              key={index}
              d={`M${x0 + 8} ${Math.max(y0 + 4, yOf(layer.from_um) - 3)}h${wide - 16}`}
              stroke={index === at ? "var(--action)" : "var(--ink2)"}
              strokeWidth={index === at ? 4 : 2}
            />
          ) : null,
        )}
        <path
          d={`M${x0 - wall / 2} ${y0 - wall / 2}v${high + wall}h${wide + wall}v${-(high + wall)}`}
          fill="none"
          stroke={parcel.kind === "mailer" ? "var(--line2)" : "var(--board-edge)"}
          strokeWidth={wall}
        />
        <path
          d={`M${x0 - wall / 2} ${y0 - wall / 2}h${wide + wall}`}
          stroke={
            lit?.kind === "close"
              ? "var(--action)"
              : parcel.kind === "mailer"
                ? "var(--line2)"
                : "var(--board-edge)"
          }
          strokeWidth={wall}
          strokeDasharray={at === undefined || lit?.kind === "close" ? undefined : "9 5"}
        />
        <Labels labels={labels} layers={layers} at={at} done={done} x={x0 + wide + wall} />
      </svg>
      {caption ? <figcaption className="text-small text-ink2">{caption}</figcaption> : null}
    </figure>
  );
}

function Labels({
  labels,
  layers,
  at,
  done,
  x,
}: {
  labels: ReturnType<typeof spread>;
  layers: readonly Layer[];
  at: number | undefined;
  done: number;
  x: number;
}) {
  return (
    <g fontFamily="var(--font-text)" fontSize="14">
      {labels.map(({ index, y, anchor }) => {
        const layer = layers[index];
        if (!layer) return null;
        const now = index === at;
        const past = at !== undefined && index < done;
        return (
          <g
            key={index}
            fill={now ? "var(--action)" : "var(--ink)"}
            fillOpacity={past ? 0.72 : 1}
            fontWeight={now ? 700 : 400}
          >
            <path
              d={`M${x + 3} ${anchor}L${x + 16} ${y}h8`}
              fill="none"
              stroke={now ? "var(--action)" : "var(--line2)"}
            />
            <text x={x + 28} y={y + 4.5}>
              {clip(layer.title, past ? 25 : 27)}
              {past ? " ✓" : ""}
            </text>
          </g>
        );
      })}
    </g>
  );
}

/** What is seen between the goods and the walls of an inner carton. */
function innerFillOf(layers: readonly Layer[], lit: Layer | undefined): string {
  if (lit?.kind === "inner_fill") return "url(#cushion-cut)";
  return layers.some((layer) => layer.kind === "inner_fill") ? "var(--hatch)" : "var(--sheet)";
}

const clip = (text: string, most: number) =>
  text.length > most ? `${text.slice(0, most - 1).trimEnd()}…` : text;

interface UnitsProps {
  parcel: Drawn;
  layers: readonly Layer[];
  at: number | undefined;
  done: number;
  x0: number;
  yOf: (um: number) => number;
  scale: number;
}

/** Units as seen from the front: the nearest of each place, so that nothing is drawn twice. */
function Units({ parcel, layers, at, done, x0, yOf, scale }: UnitsProps) {
  const layerOf = new Map<number, number>();
  layers.forEach((layer, index) => {
    if (layer.kind === "units") layer.placements.forEach((p) => layerOf.set(p, index));
  });
  return (
    <g>
      {[...units(parcel)]
        .sort((a, b) => a.at[1] - b.at[1])
        .map((unit) => {
          const layer = layerOf.get(unit.index) ?? 0;
          const now = layer === at;
          const coming = at !== undefined && !now && layer >= done;
          return (
            <rect
              key={unit.index}
              x={x0 + unit.at[0] * scale + 1}
              y={yOf(unit.at[2] + unit.size[2])}
              width={Math.max(2, unit.size[0] * scale - 2)}
              height={Math.max(2, unit.size[2] * scale)}
              fill={coming ? "none" : now ? "var(--soft)" : "var(--sheet)"}
              stroke={now ? "var(--action)" : coming ? "var(--line2)" : "var(--ink)"}
              strokeWidth={now ? 2.6 : 1.4}
              strokeDasharray={coming ? "4 4" : undefined}
            />
          );
        })}
    </g>
  );
}
