/** A select of our own look on Radix. */
import { getNonce } from "get-nonce";
import { Select } from "radix-ui";

interface Props {
  label: string;
  value: string;
  options: { value: string; text: string }[];
  onPick: (value: string) => void;
  onClose?: () => void;
  open?: boolean;
  className?: string;
}

export function Pick({ label, value, options, onPick, onClose, open, className = "" }: Props) {
  return (
    <Select.Root
      value={value}
      onValueChange={onPick}
      {...(open === undefined ? {} : { open })}
      onOpenChange={(now) => !now && onClose?.()}
    >
      <Select.Trigger
        aria-label={label}
        className={`inline-flex min-h-9 items-center justify-between gap-2 rounded-part border border-line2 bg-sheet px-2.5 ${className}`}
      >
        <Select.Value />
        <Select.Icon>
          <svg viewBox="0 0 10 6" className="w-2.5" aria-hidden="true">
            <path d="M1 1l4 4 4-4" fill="none" stroke="currentColor" strokeWidth="1.6" />
          </svg>
        </Select.Icon>
      </Select.Trigger>
      <Select.Portal>
        <Select.Content
          position="popper"
          sideOffset={2}
          className="z-50 max-h-80 min-w-[var(--radix-select-trigger-width)] overflow-auto rounded-part border border-line2 bg-sheet p-1"
        >
          <Select.Viewport {...(getNonce() ? { nonce: getNonce() } : {})}>
            {options.map((option) => (
              <Select.Item
                key={option.value}
                value={option.value}
                className="cursor-pointer rounded-part px-2.5 py-1.5 outline-none data-[highlighted]:bg-soft data-[state=checked]:font-semibold"
              >
                <Select.ItemText>{option.text}</Select.ItemText>
              </Select.Item>
            ))}
          </Select.Viewport>
        </Select.Content>
      </Select.Portal>
    </Select.Root>
  );
}
