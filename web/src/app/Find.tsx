/** `/` finds anything: order, product, supply, recipe, shelf place. A scanned code ends in Enter. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { find } from "../api/queries";
import { Sheet } from "../ui/overlays";
import { useActions } from "./keys";

export function Find() {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const navigate = useNavigate();
  const found = useQuery({ ...find(text), enabled: open && text.trim().length > 0 });
  const results = found.data?.results ?? [];
  useActions([
    {
      key: "/",
      label: "Find anything",
      run: () => {
        setText("");
        setAt(0);
        setOpen(true);
      },
    },
  ]);
  const go = (index: number) => {
    const one = results[index];
    if (!one) return;
    setOpen(false);
    void navigate(one.path);
  };
  return (
    <Sheet open={open} onOpenChange={setOpen} title="Find">
      <input
        autoFocus
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          if (event.key === "ArrowDown") {
            event.preventDefault();
            setAt((n) => Math.min(n + 1, results.length - 1));
          }
          if (event.key === "ArrowUp") {
            event.preventDefault();
            setAt((n) => Math.max(n - 1, 0));
          }
          if (event.key === "Enter") {
            event.preventDefault();
            go(at);
          }
        }}
        aria-label="Order, product, supply, recipe or shelf place"
        placeholder="Order, product, supply, recipe or shelf place"
        className="min-h-11 w-full rounded-part border border-line2 bg-ground px-3 text-lead"
      />
      <ul className="mt-3" aria-label="Found">
        {results.map((one, index) => (
          <li key={one.kind + one.path + one.title}>
            <button
              type="button"
              onClick={() => go(index)}
              className={`flex w-full items-baseline gap-3 rounded-part px-3 py-2 text-left ${index === at ? "bg-soft" : ""}`}
            >
              <span className="w-16 shrink-0 text-small text-ink2">{one.kind}</span>
              <span className="grow">{one.title}</span>
              <span className="text-small text-ink2">{one.detail}</span>
            </button>
          </li>
        ))}
      </ul>
      {text.trim() && found.isSuccess && results.length === 0 ? (
        <p className="mt-3 text-ink2">No results for “{text.trim()}”.</p>
      ) : null}
    </Sheet>
  );
}
