/** A supply's place on the shelf: its level, what of it is promised, and the mark to reorder at. */

interface Props {
  label: string; // text equivalent; empty where the words stand beside it
  onHand: number;
  reserved: number;
  reorderAt: number | null;
}

/** What a full slot would hold: three times the reorder mark, or what is there, whichever is more. */
export function slotScale(onHand: number, reorderAt: number | null): number {
  return Math.max(onHand, (reorderAt ?? 0) * 3, 1);
}

export function Slot({ label, onHand, reserved, reorderAt }: Props) {
  const full = slotScale(onHand, reorderAt) * 1.12;
  const y = (value: number) => 56 - (Math.max(0, Math.min(value, full)) / full) * 54;
  const short = reorderAt !== null && onHand < reorderAt;
  return (
    <svg
      viewBox="0 0 120 58"
      preserveAspectRatio="none"
      className="block h-[42px] w-full"
      {...(label ? { role: "img", "aria-label": label } : { "aria-hidden": true })}
    >
      <rect
        x="1"
        y="1"
        width="118"
        height="56"
        fill="var(--sheet)"
        stroke={short ? "var(--stop)" : "var(--line2)"}
        strokeWidth="1.5"
        vectorEffect="non-scaling-stroke"
      />
      <rect x="2" y={y(onHand)} width="116" height={56 - y(onHand)} fill="var(--level)" />
      <rect
        x="2"
        y={y(Math.min(reserved, Math.max(onHand, 0)))}
        width="116"
        height={56 - y(Math.min(reserved, Math.max(onHand, 0)))}
        fill="var(--promised)"
      />
      {reorderAt !== null ? (
        <path
          d={`M1 ${y(reorderAt)}h13M106 ${y(reorderAt)}h13`}
          stroke={short ? "var(--stop)" : "var(--ink)"}
          strokeWidth="3"
          vectorEffect="non-scaling-stroke"
        />
      ) : null}
    </svg>
  );
}
