/** Choose one of many by typing part of it: the combobox pattern of WAI-ARIA, by downshift. No words of the trade. */
import { useCombobox } from "downshift";
import { useState, type ReactNode } from "react";
import { sought, type SeekOption } from "./sought";

interface Props<Option extends SeekOption> {
  label: string;
  value: string;
  options: Option[];
  onPick: (option: Option) => void;
  /** The field was left, or Escape was pressed in it. */
  onClose: (why: "left" | "escaped") => void;
  placeholder?: string;
  /** In a sheet of its own: a taller field, and the list under it in the page. */
  large?: boolean;
  /** What is typed, when the options are sought elsewhere. */
  typed?: string;
  onType?: (text: string) => void;
  /** Enter while there is nothing to take yet. */
  onEnter?: () => void;
  /** Said where nothing is found; "" while it is not known yet. */
  empty?: string | undefined;
  children?: (option: Option) => ReactNode;
}

export function Combo<Option extends SeekOption>({
  label,
  value,
  options,
  onPick,
  onClose,
  placeholder = "Type part of it",
  large = false,
  typed,
  onType,
  onEnter,
  empty,
  children,
}: Props<Option>) {
  const [own, setOwn] = useState("");
  const text = typed ?? own;
  const shown = onType ? options : sought(options, text);
  const combo = useCombobox<Option>({
    items: shown,
    inputValue: text,
    isOpen: true,
    defaultHighlightedIndex: 0,
    initialHighlightedIndex: Math.max(
      0,
      options.findIndex((one) => one.value === value),
    ),
    itemToString: (one) => one?.text ?? "",
    onSelectedItemChange: ({ selectedItem }) => selectedItem && onPick(selectedItem),
    onIsOpenChange: ({ isOpen, type }) => {
      const left = useCombobox.stateChangeTypes.InputBlur;
      const escaped = useCombobox.stateChangeTypes.InputKeyDownEscape;
      if (isOpen !== false) return;
      if (type === left) onClose("left");
      if (type === escaped) onClose("escaped");
    },
  });
  const nothing = text.trim() && shown.length === 0 ? (empty ?? `No results for “${text}”`) : "";
  return (
    <div className="relative text-left">
      <input
        {...combo.getInputProps({
          autoFocus: true,
          placeholder,
          "aria-label": label,
          // At once, not when the list's own state has followed: Enter may come right after the last letter.
          onChange: (event) => (onType ?? setOwn)(event.currentTarget.value),
          onKeyDown: (event) => {
            if (event.key === "Enter" && shown.length === 0) onEnter?.();
          },
        })}
        className={
          large
            ? "min-h-11 w-full rounded-part border border-line2 bg-ground px-3 text-lead"
            : "h-[26px] w-full min-w-24 border-2 border-action bg-sheet px-2"
        }
      />
      <ul
        {...combo.getMenuProps({ "aria-label": label })}
        className={
          large
            ? "mt-3"
            : "absolute right-0 z-30 mt-0.5 max-h-64 w-max min-w-full max-w-96 overflow-auto rounded-part border border-line2 bg-sheet p-1"
        }
      >
        {shown.map((one, index) => (
          <li
            key={one.value}
            {...combo.getItemProps({ item: one, index })}
            className={`cursor-pointer truncate rounded-part px-2.5 py-1 ${index === combo.highlightedIndex ? "bg-soft" : ""} ${one.value === value ? "font-semibold" : ""}`}
          >
            {children ? children(one) : one.text}
          </li>
        ))}
      </ul>
      {nothing ? (
        <p role="status" className={large ? "mt-3 text-ink2" : "sr-only"}>
          {nothing}
        </p>
      ) : null}
    </div>
  );
}
