/** Finding anything: order, product, supply, recipe, shelf place. A scanned code ends in Enter. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { find } from "../api/frame";
import { Combo } from "../ui/Combo";
import { Sheet } from "../ui/Sheet";

const WORDS = "Order, product, supply, recipe or shelf place";

interface Props {
  text: string;
  onText: (text: string) => void;
  /** Enter came before the sheet was there. */
  entered: boolean;
  onClose: () => void;
}

export function FindSheet({ text, onText, entered: early, onClose }: Props) {
  const navigate = useNavigate();
  const found = useQuery({ ...find(text), enabled: text.trim().length > 0 });
  const results = text.trim() ? (found.data?.results ?? []) : [];
  // A scanner sends Enter before the answer can be there: the first result is opened when it comes.
  const [entered, setEntered] = useState(early ? text : "");
  const first = found.isSuccess && entered === text ? results[0]?.path : undefined;
  const go = (path: string) => {
    onClose();
    void navigate(path);
  };
  useEffect(() => {
    if (first !== undefined) go(first);
  });
  return (
    <Sheet open onOpenChange={(open) => !open && onClose()} title="Find">
      <Combo
        label={WORDS}
        placeholder={WORDS}
        options={results.map((one) => ({ ...one, value: one.kind + one.path, text: one.title }))}
        value=""
        large
        typed={text}
        onType={onText}
        onPick={(one) => go(one.path)}
        onClose={(why) => why === "escaped" && onClose()}
        onEnter={() => setEntered(text)}
        empty={found.isSuccess ? undefined : ""}
      >
        {(one) => (
          <span className="flex w-full items-baseline gap-3 py-1">
            <span className="w-16 shrink-0 text-small text-ink2">{one.kind}</span>
            <span className="grow">{one.title}</span>
            <span className="text-small text-ink2">{one.detail}</span>
          </span>
        )}
      </Combo>
    </Sheet>
  );
}
