/** One of the products, by part of its name or sku. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { productsLike } from "../../api/recipes";
import { Combo } from "../../ui/Combo";
import { useRested } from "../../ui/useRested";

export function ProductCombo({
  taken = [],
  onPick,
  onClose,
}: {
  taken?: readonly string[];
  onPick: (sku: string, name: string) => void;
  onClose: () => void;
}) {
  const [typed, setTyped] = useState("");
  const found = useQuery(productsLike(useRested(typed, 150)));
  const options = (found.data?.results ?? [])
    .filter((row) => !taken.includes(row.sku))
    .slice(0, 8)
    .map((row) => ({ value: row.sku, text: row.name }));
  return (
    <div className="mt-3 max-w-md">
      <Combo
        large
        label="Product"
        value=""
        options={options}
        typed={typed}
        onType={setTyped}
        empty={found.isPending ? "" : `No product matches “${typed}”`}
        placeholder="Part of its name or sku"
        onPick={(one) => onPick(one.value, one.text)}
        onClose={onClose}
      >
        {(one) => (
          <>
            {one.text} <span className="text-ink2">{one.value}</span>
          </>
        )}
      </Combo>
    </div>
  );
}
