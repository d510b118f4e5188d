/** Products: size, weight and nature of what is sold; what a variant lacks is said. Files in and out. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { importProducts, products } from "../../api/recipes";
import { useActions } from "../../app/keys";
import { useSession } from "../../app/session";
import { FileButton } from "../../ui/FileButton";
import { useToast } from "../../ui/useToast";
import { useAddress } from "../../ui/list/useList";
import { Button, Empty, LinkButton, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { DeskTabs } from "../recipes/DeskTabs";
import { ProductForm } from "./ProductForm";
import { ProductList } from "./ProductList";
import { RetiredProducts } from "./RetiredProducts";
import { UnitsLeft } from "./UnitsLeft";
import { many } from "../../domain/words";

const lacks = (row: Schemas["ProductOut"]) =>
  row.contents.length === 0 && (row.size === null || row.weight_mg === null);

export function ProductsScreen() {
  const list = useQuery(products());
  const owner = useSession().role === "owner";
  const say = useToast();
  const [params, set] = useAddress();
  const [retired, setRetired] = useState(false);
  const take = useMutation({
    ...importProducts(),
    onSuccess: (done) => {
      say(done.words);
    },
  });
  const rows = list.data?.results ?? [];
  const at = rows.findIndex((row) => String(row.id) === params.get("product"));
  const adding = params.get("new") === "1" && owner;
  const go = (index: number) => {
    const row = rows[Math.min(Math.max(index, 0), rows.length - 1)];
    if (row) set({ product: String(row.id), new: null });
  };
  useActions([
    { key: "arrowdown", label: "Next product", run: () => go(at + 1) },
    { key: "arrowup", label: "Product before", run: () => go(at - 1) },
    {
      key: "n",
      label: "New product",
      run: () => set({ new: "1", product: null, copy: null }),
      off: !owner,
    },
    {
      key: "escape",
      label: "Step back",
      run: () => set({ new: null, product: null }),
      off: at < 0 && !adding,
    },
  ]);
  if (list.isPending) return <Waiting what="your products" />;
  if (list.isError)
    return (
      <div className="p-6">
        <ProblemNote error={list.error} />
      </div>
    );
  const lacking = rows.filter(lacks).length;
  const picked = rows[at];
  return (
    <>
      {retired ? <RetiredProducts onClose={() => setRetired(false)} /> : null}
      <DeskTabs />
      <ScreenHead
        title={rows.length === 0 ? "No product yet" : many(rows.length, "product")}
        under={
          lacking === 0
            ? "Size and weight of each are known"
            : `${lacking} without size or weight of their own`
        }
      >
        <Button kind="quiet" onClick={() => setRetired(true)}>
          Retired
        </Button>
        <LinkButton href="/api/products/file?as=csv" download>
          Export CSV
        </LinkButton>
        <LinkButton href="/api/products/file" download>
          Export JSON
        </LinkButton>
        {owner ? (
          <FileButton
            text="Import file"
            accept=".csv,.json"
            onFile={(name, content) => take.mutate({ name, content })}
          />
        ) : null}
        {owner ? (
          <Button kind="next" hotkey="N" onClick={() => set({ new: "1", product: null })}>
            New product
          </Button>
        ) : null}
      </ScreenHead>
      {take.error ? (
        <div className="px-6 pb-3">
          <ProblemNote error={take.error} />
        </div>
      ) : null}
      <div
        className={`grid border-t border-line bg-sheet ${picked || adding ? "grid-cols-[minmax(0,1fr)_520px] max-lg:grid-cols-1" : ""}`}
      >
        {rows.length === 0 ? (
          <Empty title="No product yet">
            <p>Press N to add the first, or import a file.</p>
          </Empty>
        ) : (
          <ProductList
            rows={rows}
            picked={picked}
            narrow={picked !== undefined || adding}
            onPick={(row) => set({ product: String(row.id), new: null })}
          />
        )}
        {picked || adding ? (
          <aside
            className="border-l border-line px-6 py-4 max-lg:border-l-0 max-lg:border-t"
            aria-label={picked ? picked.name : "New product"}
          >
            <ProductForm
              key={picked?.id ?? `new-${params.get("copy") ?? ""}`}
              copyOf={
                adding ? rows.find((row) => String(row.id) === params.get("copy")) : undefined
              }
              product={picked ?? null}
              locked={!owner}
              onClose={() => set({ new: null, product: null, copy: null })}
              onKept={(row) => set({ product: String(row.id), new: null, copy: null })}
            />
            {picked ? <UnitsLeft key={`left-${picked.id}`} productId={picked.id} /> : null}
          </aside>
        ) : null}
      </div>
    </>
  );
}
