/** A supply as its figures say: a carton or box at a slant, a mailer flat, a roll, a sheet. It follows what is typed. */

type Um = number;

interface Props {
  kind: string;
  /** Inside sizes of a carton or box; flat length and width of a mailer or sheet. */
  sides: readonly Um[];
  rollWidth?: Um;
  double?: boolean;
  label: string;
}

const [WIDE, HIGH] = [300, 150];

export function SupplyShape({ kind, sides, rollWidth = 0, double = false, label }: Props) {
  const known = sides.length > 0 && sides.every((side) => side > 0);
  return (
    <svg viewBox={`0 0 ${WIDE} ${HIGH}`} className="h-[150px] w-full" role="img" aria-label={label}>
      {["carton", "unit_box"].includes(kind) && known ? (
        <Box sides={sides} double={double} />
      ) : null}
      {kind === "mailer" && known ? <Flat sides={sides} flap /> : null}
      {kind === "wrap" && rollWidth > 0 ? <Roll width={rollWidth} /> : null}
      {kind === "wrap" && rollWidth === 0 && known ? <Flat sides={sides} /> : null}
      {kind === "tape" ? <Roll width={60_000} /> : null}
      {kind === "insert" ? <Flat sides={[148_000, 105_000]} /> : null}
      {kind === "fill" ? <Heap /> : null}
    </svg>
  );
}

function Box({ sides, double }: { sides: readonly Um[]; double: boolean }) {
  const [l = 1, w = 1, h = 1] = sides;
  const [cos, sin] = [0.89, 0.45];
  const scale = Math.min((WIDE - 40) / ((l + w) * cos), (HIGH - 20) / ((l + w) * sin + h));
  const x0 = (WIDE - (l + w) * cos * scale) / 2 + w * cos * scale;
  const y0 = HIGH - 8 - (l + w) * sin * scale;
  const p = (x: Um, y: Um, z: Um) =>
    `${(x0 + (x - y) * cos * scale).toFixed(1)} ${(y0 + (x + y) * sin * scale - z * scale).toFixed(1)}`;
  return (
    <g
      fill="var(--board)"
      stroke="var(--board-edge)"
      strokeWidth={double ? 3.2 : 1.6}
      strokeLinejoin="round"
    >
      <path d={`M${p(0, w, 0)}L${p(l, w, 0)}L${p(l, w, h)}L${p(0, w, h)}z`} />
      <path d={`M${p(l, w, 0)}L${p(l, 0, 0)}L${p(l, 0, h)}L${p(l, w, h)}z`} />
      <path d={`M${p(0, w, h)}L${p(l, w, h)}L${p(l, 0, h)}L${p(0, 0, h)}z`} />
      <path d={`M${p(0, w / 2, h)}L${p(l, w / 2, h)}`} strokeWidth="1" />
    </g>
  );
}

function Flat({ sides, flap = false }: { sides: readonly Um[]; flap?: boolean }) {
  const [l = 1, w = 1] = sides;
  const scale = Math.min((WIDE - 60) / l, (HIGH - 30) / w);
  const [x, y] = [(WIDE - l * scale) / 2, (HIGH - w * scale) / 2];
  return (
    <g fill="var(--sheet)" stroke="var(--ink)" strokeWidth="1.6">
      <rect x={x} y={y} width={l * scale} height={w * scale} />
      {flap ? (
        <path d={`M${x + l * scale * 0.88} ${y}v${w * scale}`} strokeDasharray="4 4" />
      ) : null}
    </g>
  );
}

function Roll({ width }: { width: Um }) {
  const long = Math.min(WIDE - 90, Math.max(20, (width / 1000) * 0.4));
  const x = (WIDE - long) / 2;
  return (
    <g fill="var(--sheet)" stroke="var(--ink)" strokeWidth="1.6">
      <path d={`M${x} 35h${long}v80h-${long}z`} stroke="none" />
      <path d={`M${x} 35h${long}M${x} 115h${long}`} />
      <ellipse cx={x + long} cy="75" rx="15" ry="40" />
      <ellipse cx={x + long} cy="75" rx="5" ry="13" />
      <path d={`M${x} 35a15 40 0 0 0 0 80`} />
    </g>
  );
}

function Heap() {
  const bits = Array.from({ length: 26 }, (_, at) => {
    const row = at < 11 ? 0 : at < 19 ? 1 : 2;
    const inRow = at - (row === 0 ? 0 : row === 1 ? 11 : 19);
    return {
      x: 60 + row * 24 + inRow * 18,
      y: 118 - row * 22 + (at % 3) * 3,
      turn: (at * 47) % 90,
    };
  });
  return (
    <g fill="var(--sheet)" stroke="var(--ink)" strokeWidth="1.4">
      {bits.map(({ x, y, turn }) => (
        <path
          key={`${x}-${y}`}
          d="M-8-5c5-4 11-4 16 0v9c-5 3-11 3-16 0z"
          transform={`translate(${x} ${y}) rotate(${turn})`}
        />
      ))}
    </g>
  );
}
