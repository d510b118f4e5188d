/** Choose one of many by typing part of it: arrows move, Enter takes, Escape leaves. No words of the trade. */
import { useEffect, useId, useRef, useState } from "react";
import { sought, type SeekOption } from "./sought";

interface Props {
  label: string;
  value: string;
  options: SeekOption[];
  onPick: (value: string) => void;
  onClose: () => void;
  placeholder?: string;
}

export function SeekPick({
  label,
  value,
  options,
  onPick,
  onClose,
  placeholder = "Type part of it",
}: Props) {
  const [text, setText] = useState("");
  const [at, setAt] = useState(
    Math.max(
      0,
      options.findIndex((one) => one.value === value),
    ),
  );
  const list = useRef<HTMLUListElement>(null);
  const box = useRef<HTMLDivElement>(null);
  const id = useId();
  const found = sought(options, text);
  const here = Math.min(at, found.length - 1);
  useEffect(() => {
    list.current?.querySelector("[aria-selected=true]")?.scrollIntoView({ block: "nearest" });
  }, [here, text]);
  const take = (index: number) => {
    const one = found[index];
    if (one) onPick(one.value);
  };
  return (
    <div
      ref={box}
      className="relative text-left"
      onBlur={(event) => {
        if (!box.current?.contains(event.relatedTarget)) onClose();
      }}
    >
      <input
        autoFocus
        role="combobox"
        aria-label={label}
        aria-expanded="true"
        aria-controls={`${id}-list`}
        aria-activedescendant={here >= 0 ? `${id}-${here}` : undefined}
        value={text}
        placeholder={placeholder}
        onChange={(event) => {
          setText(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (event.key === "ArrowDown" || event.key === "ArrowUp") {
            event.preventDefault();
            setAt(
              Math.min(Math.max(here + (event.key === "ArrowDown" ? 1 : -1), 0), found.length - 1),
            );
          }
          if (event.key === "Enter") {
            event.preventDefault();
            take(here);
          }
          if (event.key === "Escape") {
            event.preventDefault();
            event.stopPropagation();
            onClose();
          }
        }}
        className="h-[26px] w-full min-w-24 border-2 border-action bg-sheet px-2"
      />
      <ul
        ref={list}
        id={`${id}-list`}
        role="listbox"
        aria-label={label}
        className="absolute right-0 z-30 mt-0.5 max-h-64 w-max min-w-full max-w-96 overflow-auto rounded-part border border-line2 bg-sheet p-1"
      >
        {found.map((one, index) => (
          <li key={one.value} id={`${id}-${index}`} role="option" aria-selected={index === here}>
            <button
              type="button"
              tabIndex={-1}
              onMouseDown={(event) => event.preventDefault()}
              onClick={() => take(index)}
              className={`block w-full truncate rounded-part px-2.5 py-1 text-left ${index === here ? "bg-soft" : ""} ${one.value === value ? "font-semibold" : ""}`}
            >
              {one.text}
            </button>
          </li>
        ))}
        {found.length === 0 ? (
          <li
            className="px-2.5 py-1 text-ink2"
            role="option"
            aria-selected="false"
            aria-disabled="true"
          >
            No results for “{text}”
          </li>
        ) : null}
      </ul>
    </div>
  );
}
