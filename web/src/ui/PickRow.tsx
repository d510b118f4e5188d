/** One of a few in a row: the one that is shown is underlined. No words of the trade. */
import type { ReactNode } from "react";

export interface RowOption {
  value: string;
  text: ReactNode;
}

export function PickRow({
  label,
  value,
  options,
  onPick,
  small = false,
  className = "flex flex-wrap gap-x-5",
}: {
  label: string;
  value: string;
  options: readonly RowOption[];
  onPick: (value: string) => void;
  small?: boolean;
  className?: string;
}) {
  return (
    <div className={className} role="group" aria-label={label}>
      {options.map((one) => (
        <button
          key={one.value}
          type="button"
          aria-pressed={one.value === value}
          onClick={() => onPick(one.value)}
          className={`border-b-2 ${small ? "min-h-9 text-small" : "min-h-11"} ${one.value === value ? "border-action font-semibold text-action" : "border-transparent text-ink2 hover:text-ink"}`}
        >
          {one.text}
        </button>
      ))}
    </div>
  );
}
