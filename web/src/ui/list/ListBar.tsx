/** Over a list: its filters and a field to search it; under it: its pages. */
import { useEffect, useState } from "react";
import { Button } from "../parts";

interface FilterOption {
  key: string;
  name: string;
  count?: number;
}

export function ListBar({
  filters = [],
  filter = "",
  onFilter,
  search,
  onSearch,
  searchLabel,
}: {
  filters?: readonly FilterOption[];
  filter?: string | undefined;
  onFilter?: (key: string) => void;
  search: string;
  onSearch: (text: string) => void;
  searchLabel: string;
}) {
  return (
    <div className="flex flex-wrap items-center gap-x-4 border-b border-line pl-5 pr-6">
      <div className="flex grow flex-wrap items-center gap-1" role="group" aria-label="Show">
        {filters.map((one) => (
          <button
            key={one.key}
            type="button"
            aria-pressed={one.key === filter}
            onClick={() => onFilter?.(one.key)}
            className={`min-h-11 border-b-2 px-3 ${one.key === filter ? "border-action font-semibold text-action" : "border-transparent text-ink2 hover:text-ink"}`}
          >
            {one.name}
            {one.count === undefined ? "" : ` ${one.count}`}
          </button>
        ))}
      </div>
      <SearchField label={searchLabel} value={search} onChange={onSearch} />
    </div>
  );
}

/** What is typed is sought a moment after the last key, so that a list on the server is not asked for every letter. */
function SearchField({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (text: string) => void;
}) {
  const [typed, setTyped] = useState(value);
  const [known, setKnown] = useState(value);
  if (value !== known) {
    setKnown(value);
    setTyped(value);
  }
  useEffect(() => {
    if (typed === value) return undefined;
    const soon = window.setTimeout(() => onChange(typed), 200);
    return () => window.clearTimeout(soon);
  });
  return (
    <input
      type="search"
      aria-label={label}
      placeholder={label}
      value={typed}
      onChange={(event) => setTyped(event.target.value)}
      onKeyDown={(event) => {
        if (event.key !== "Escape" || typed === "") return;
        event.preventDefault();
        event.stopPropagation();
        setTyped("");
      }}
      className="my-1 min-h-9 w-60 rounded-part border border-line2 bg-sheet px-3"
    />
  );
}

export function Pages({
  page,
  pages,
  onTurn,
  back = "Previous",
  on = "Next",
}: {
  page: number;
  pages: number;
  onTurn: (page: number) => void;
  back?: string;
  on?: string;
}) {
  if (pages <= 1) return null;
  return (
    <div className="flex items-center gap-3 px-6 py-3">
      <Button disabled={page <= 1} onClick={() => onTurn(page - 1)}>
        {back}
      </Button>
      <span className="text-ink2">
        page {page} of {pages}
      </span>
      <Button disabled={page >= pages} onClick={() => onTurn(page + 1)}>
        {on}
      </Button>
    </div>
  );
}
