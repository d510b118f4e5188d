/** A scanner is a fast keyboard: codes end in Enter. While nothing is typed the screen's keys work. No words of the trade. */
import { useId, useRef } from "react";

interface Props {
  label: string;
  onCode: (code: string) => void;
  /** Enter on an empty field. */
  onEmpty?: () => void;
  /** Keys of the screen, by letter: run while the field is empty. */
  keys?: Record<string, () => void>;
}

export function ScanField({ label, onCode, onEmpty, keys = {} }: Props) {
  const id = useId();
  const field = useRef<HTMLInputElement>(null);
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        const code = field.current?.value.trim() ?? "";
        if (field.current) field.current.value = "";
        if (code) onCode(code);
        else onEmpty?.();
      }}
    >
      <label className="block text-small text-ink2" htmlFor={id}>
        {label}
      </label>
      <input
        id={id}
        ref={field}
        autoFocus
        autoComplete="off"
        onKeyDown={(event) => {
          const run = field.current?.value === "" ? keys[event.key.toLowerCase()] : undefined;
          if (!run || event.ctrlKey || event.metaKey || event.altKey) return;
          event.preventDefault();
          run();
        }}
        className="mt-1 min-h-12 w-96 max-w-full rounded-part border border-line2 bg-ground px-4 text-bench"
      />
    </form>
  );
}
