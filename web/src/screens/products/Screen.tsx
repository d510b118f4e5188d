/** Products: size, weight and nature of what is sold; what a variant lacks is said. Files in and out. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import { answer, api, type Schemas } from "../../api/client";
import { products } from "../../api/queries";
import { useActions } from "../../app/keys";
import { useFormat, useSession } from "../../app/session";
import { OPENS } from "../../ui/rows";
import { FileButton } from "../../ui/FileButton";
import { useToast } from "../../ui/overlays";
import { Button, Empty, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { DeskTabs } from "../recipes/DeskTabs";
import { FLAG_WORDS, FLAGS } from "./fields";
import { ProductForm } from "./ProductForm";
import { many } from "../../domain/words";

type Product = Schemas["ProductOut"];

export function ProductsScreen() {
  const list = useQuery(products());
  const owner = useSession().role === "owner";
  const client = useQueryClient();
  const say = useToast();
  const [params, setParams] = useSearchParams();
  const take = useMutation({
    mutationFn: (body: { name: string; content: string }) =>
      answer(api.POST("/api/products/file", { body })),
    onSuccess: (done) => {
      say(done.words);
      void client.invalidateQueries();
    },
  });
  const rows = list.data?.results ?? [];
  const at = rows.findIndex((row) => String(row.id) === params.get("product"));
  const adding = params.get("new") === "1" && owner;
  const go = (index: number) => {
    const row = rows[Math.min(Math.max(index, 0), rows.length - 1)];
    if (row) setParams({ product: String(row.id) }, { replace: true });
  };
  useActions([
    { key: "arrowdown", label: "Next product", run: () => go(at + 1) },
    { key: "arrowup", label: "Product before", run: () => go(at - 1) },
    { key: "n", label: "New product", run: () => setParams({ new: "1" }), off: !owner },
    { key: "escape", label: "Step back", run: () => setParams({}), off: at < 0 && !adding },
  ]);
  if (list.isPending) return <Waiting what="your products" />;
  if (list.isError)
    return (
      <div className="p-6">
        <ProblemNote error={list.error} />
      </div>
    );
  const lacking = rows.filter(
    (row) => row.contents.length === 0 && (row.size === null || row.weight_mg === null),
  ).length;
  const picked = rows[at];
  return (
    <>
      <DeskTabs />
      <ScreenHead
        title={rows.length === 0 ? "No product yet" : many(rows.length, "product")}
        under={
          lacking === 0
            ? "Size and weight of each are known"
            : `${lacking} without size or weight of their own`
        }
      >
        <a
          className="inline-flex min-h-10 items-center rounded-part border border-line2 px-4 font-semibold text-action"
          href="/api/products/file?as=csv"
          download
        >
          Export CSV
        </a>
        <a
          className="inline-flex min-h-10 items-center rounded-part border border-line2 px-4 font-semibold text-action"
          href="/api/products/file"
          download
        >
          Export JSON
        </a>
        {owner ? (
          <FileButton
            text="Import file"
            accept=".csv,.json"
            onFile={(name, content) => take.mutate({ name, content })}
          />
        ) : null}
        {owner ? (
          <Button kind="next" hotkey="N" onClick={() => setParams({ new: "1" })}>
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
          <ProductTable
            rows={rows}
            picked={picked}
            narrow={picked !== undefined || adding}
            onPick={(row) => setParams({ product: String(row.id) })}
          />
        )}
        {picked || adding ? (
          <aside
            className="border-l border-line px-6 py-4 max-lg:border-l-0 max-lg:border-t"
            aria-label={picked ? picked.name : "New product"}
          >
            <ProductForm
              key={picked?.id ?? "new"}
              product={picked ?? null}
              locked={!owner}
              onClose={() => setParams({})}
              onKept={(row) => setParams({ product: String(row.id) })}
            />
          </aside>
        ) : null}
      </div>
    </>
  );
}

function ProductTable({
  rows,
  picked,
  narrow,
  onPick,
}: {
  rows: Product[];
  picked: Product | undefined;
  narrow: boolean;
  onPick: (row: Product) => void;
}) {
  const format = useFormat();
  return (
    <table className="rule-table self-start">
      <caption className="sr-only">Products</caption>
      <thead>
        <tr>
          <th scope="col" className="pl-6!">
            Product
          </th>
          <th scope="col">Size</th>
          <th scope="col" className="num">
            Weight
          </th>
          {narrow ? null : (
            <>
              <th scope="col">Nature</th>
              <th scope="col" className="pl-6!">
                Recipe
              </th>
            </>
          )}
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.id} {...OPENS} className={row.id === picked?.id ? "bg-soft" : ""}>
            <td className="pl-6!">
              <button
                type="button"
                className="text-left font-semibold text-action hover:underline"
                onClick={() => onPick(row)}
              >
                {row.name}
              </button>{" "}
              <span className="text-small text-ink2">
                {row.sku}
                {row.family ? `, ${row.family}` : ""}
              </span>
            </td>
            <td className="whitespace-nowrap">
              {row.size ? (
                format.size(row.size)
              ) : row.contents.length > 0 ? (
                "a set"
              ) : row.family ? (
                <span className="text-ink2">the largest of its family</span>
              ) : (
                <>
                  <Mark kind="stop" /> no size
                </>
              )}
            </td>
            <td className="num">
              {row.weight_mg !== null ? (
                format.weight(row.weight_mg)
              ) : row.contents.length > 0 ? (
                ""
              ) : row.family ? (
                <span className="text-ink2">the heaviest</span>
              ) : (
                <>
                  <Mark kind="stop" /> none
                </>
              )}
            </td>
            {narrow ? null : (
              <>
                <td className="text-ink2">
                  {[
                    row.fragility,
                    ...FLAGS.filter((flag) => row[flag]).map((flag) => FLAG_WORDS[flag]),
                  ].join(", ")}
                </td>
                <td className="pl-6!">
                  {row.recipe_name ??
                    (row.contents.length > 0 ? (
                      <span className="text-ink2">
                        {row.contents.map((item) => `${item.quantity} ${item.sku}`).join(", ")}
                      </span>
                    ) : (
                      <>
                        <Mark kind="mind" /> none
                      </>
                    ))}
                </td>
              </>
            )}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
