/** A share with its interval: a point between two whiskers on a scale of its own width, ticks where others have them. */

interface Props {
  share: number | null;
  low: number;
  high: number;
  /** The right end of the scale, as a share. */
  top: number;
  width: number;
  label: string;
  tone?: "ink" | "action";
  /** Not counted yet: expected. */
  open?: boolean;
  ticks?: readonly number[];
}

const HIGH = 22;
const PAD = 8;

export function Whisker({
  share,
  low,
  high,
  top,
  width,
  label,
  tone = "ink",
  open = false,
  ticks = [],
}: Props) {
  const x = (value: number) => PAD + (Math.min(value, top) / top) * (width - 2 * PAD);
  const y = HIGH / 2;
  const colour = tone === "action" ? "var(--action)" : "var(--ink2)";
  return (
    <svg viewBox={`0 0 ${width} ${HIGH}`} width={width} height={HIGH} role="img" aria-label={label}>
      {ticks.map((tick) => (
        <path key={tick} d={`M${x(tick)} 0v${HIGH}`} stroke="var(--line)" />
      ))}
      {ticks.length === 0 ? <path d={`M${x(0)} ${y}H${x(top)}`} stroke="var(--line)" /> : null}
      <path
        d={`M${x(low)} ${y}H${x(high)} M${x(low)} ${y - 5}v10 M${x(high)} ${y - 5}v10`}
        stroke={colour}
        strokeWidth="2"
        strokeDasharray={open ? "4 3" : undefined}
        fill="none"
      />
      {share === null ? null : (
        <circle
          cx={x(share)}
          cy={y}
          r="6"
          fill={open ? "var(--sheet)" : colour}
          stroke={colour}
          strokeWidth="2"
        />
      )}
    </svg>
  );
}
