/** Goods of a file that are none of the products: matched once, remembered for every file after. */
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { many } from "../../domain/words";
import { Button, Mark } from "../../ui/parts";
import { ProductCombo } from "./ProductCombo";

export function UnknownGoods({
  unknown,
  matched,
  onMatch,
}: {
  unknown: readonly Schemas["UnknownOut"][];
  matched: Readonly<Record<string, string>>;
  onMatch: (said: string, sku: string | null) => void;
}) {
  const [asking, setAsking] = useState<string | null>(null);
  const done = Object.entries(matched);
  if (unknown.length === 0 && done.length === 0) return null;
  return (
    <section aria-labelledby="unknown" className="border-b border-line px-6 py-4">
      <h2 id="unknown" className="text-[18px] font-semibold">
        {unknown.length > 0 ? (
          <>
            <Mark kind="mind" /> {many(unknown.length, "name")} of goods you do not have
          </>
        ) : (
          "Every name of goods is matched"
        )}
      </h2>
      <p className="text-ink2">
        Say once which product each is. Orders with a name that stays unknown are imported and held.
      </p>
      <ul className="mt-2">
        {unknown.map((one) => (
          <li key={one.said} className="border-t border-line py-2">
            <span className="flex flex-wrap items-center gap-4">
              <span className="min-w-72">
                <b>{one.said}</b>{" "}
                <span className="text-ink2">
                  {one.title && one.title !== one.said ? `${one.title}, ` : ""}
                  {many(one.lines, "line")}
                </span>
              </span>
              {asking === one.said ? null : (
                <Button onClick={() => setAsking(one.said)}>Choose the product</Button>
              )}
            </span>
            {asking === one.said ? (
              <ProductCombo
                onPick={(sku) => {
                  setAsking(null);
                  onMatch(one.said, sku);
                }}
                onClose={() => setAsking(null)}
              />
            ) : null}
          </li>
        ))}
        {done.map(([said, sku]) => (
          <li key={said} className="flex items-center gap-4 border-t border-line py-2">
            <span className="min-w-72">
              <Mark kind="done" /> <b>{said}</b> is {sku}
            </span>
            <Button kind="quiet" onClick={() => onMatch(said, null)}>
              Undo
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
