/** A labelled list to choose one of, in a form. No words of the trade. */
import { Pick } from "./Pick";

interface Props {
  label: string;
  value: string;
  options: { value: string; text: string }[];
  onPick: (value: string) => void;
}

/** Stands for an option without a value: Radix allows none. */
const NONE = "-";

export function Choose({ label, value, options, onPick }: Props) {
  return (
    <div>
      <span className="block text-small text-ink2" aria-hidden="true">
        {label}
      </span>
      <Pick
        label={label}
        className="mt-1 min-h-10 w-full"
        value={value === "" ? (options.some((one) => one.value === "") ? NONE : "") : value}
        options={options.map((one) => (one.value === "" ? { ...one, value: NONE } : one))}
        onPick={(now) => onPick(now === NONE ? "" : now)}
      />
    </div>
  );
}
