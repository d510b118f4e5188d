/** Readiness: every product by order size, ready or what is missing, with the way to fix it. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import { readiness } from "../../api/queries";
import { useActions } from "../../app/keys";
import { OPENS } from "../../ui/rows";
import { Button, Empty, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { DeskTabs } from "../recipes/DeskTabs";
import { bandName } from "../recipes/rows";
import { gathered } from "./gathered";

type Row = Schemas["ProductReadiness"];
type Lack = Schemas["Lack"];

const FIX_WORDS: Record<Lack["fix_at"], string> = {
  product: "Enter it",
  recipe: "Open the recipe",
  cupboard: "To the cupboard",
  rates: "Open the recipe",
  trial: "Log a test",
};

function fixPath(row: Row, place: Lack["fix_at"]): string {
  if (place === "cupboard") return "/cupboard";
  if (place === "product") return `/products?product=${row.product_id}`;
  return row.recipe_id === null
    ? `/recipes/new?product=${row.product_id}`
    : `/recipes/${row.recipe_id}`;
}

export function ReadinessScreen() {
  const [page, setPage] = useState(1);
  const [onlyLacking, setOnlyLacking] = useState(false);
  const [at, setAt] = useState(0);
  const navigate = useNavigate();
  const list = useQuery(readiness(page));
  const all = list.data?.results ?? [];
  const rows = [...all]
    .sort((a, b) => Number(a.ready) - Number(b.ready))
    .filter((row) => !onlyLacking || !row.ready);
  useActions([
    {
      key: "arrowdown",
      label: "Next product",
      run: () => setAt((n) => Math.min(n + 1, rows.length - 1)),
    },
    { key: "arrowup", label: "Product before", run: () => setAt((n) => Math.max(n - 1, 0)) },
    {
      key: "enter",
      label: "Fix what is missing",
      run: () => {
        const row = rows[at];
        const first = row ? gathered(row)[0] : undefined;
        if (row) void navigate(fixPath(row, first?.lack.fix_at ?? "recipe"));
      },
    },
    {
      key: "o",
      label: onlyLacking ? "Show all" : "Only what is not ready",
      run: () => {
        setAt(0);
        setOnlyLacking(!onlyLacking);
      },
    },
  ]);
  if (list.isPending)
    return <Waiting what="what is ready: every product is packed in every order size" />;
  if (list.isError)
    return (
      <div className="p-6">
        <ProblemNote error={list.error} />
      </div>
    );
  const missing = all.filter((row) => !row.ready).length;
  return (
    <>
      <DeskTabs />
      <ScreenHead
        title={
          all.length === 0
            ? "No product yet"
            : missing === 0
              ? "Everything can be packed"
              : `${missing} of ${all.length} products ${missing === 1 ? "is" : "are"} not ready`
        }
        under="Computed for a parcel of each order size to your usual destinations, and for today’s stock"
      >
        <Button hotkey="O" onClick={() => setOnlyLacking(!onlyLacking)}>
          {onlyLacking ? "Show all" : "Only not ready"}
        </Button>
      </ScreenHead>
      {rows.length === 0 ? (
        <Empty title={all.length === 0 ? "No product yet" : "Nothing is missing"}>
          <p>
            {all.length === 0
              ? "Enter your first product under Products."
              : "Every product can be packed in every order size."}
          </p>
        </Empty>
      ) : (
        <table className="rule-table bg-sheet">
          <caption className="sr-only">Readiness of products</caption>
          <thead>
            <tr>
              <th scope="col" className="pl-6!">
                Product
              </th>
              <th scope="col">Order sizes</th>
              <th scope="col">What is missing or needs attention</th>
              <th scope="col" className="pr-6!">
                <span className="sr-only">Fix</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row, index) => {
              const lacks = gathered(row);
              return (
                <tr
                  key={row.product_id}
                  {...OPENS}
                  className={index === at ? "bg-soft" : ""}
                  onMouseEnter={() => setAt(index)}
                >
                  <td className="pl-6!">
                    <b className="font-semibold">{row.name}</b>
                    <span className="block text-small text-ink2">
                      {row.sku}
                      {row.recipe ? `, ${row.recipe}` : ""}
                    </span>
                  </td>
                  <td className="whitespace-nowrap">
                    {row.sizes.map((size, n) =>
                      size.first === 0 ? null : (
                        <span key={size.first} className="mr-4 inline-block">
                          <Mark kind={row.ready_sizes[n] ? "done" : "stop"} /> {bandName(size)}
                          <span className="sr-only">
                            {row.ready_sizes[n] ? " ready" : " not ready"}
                          </span>
                        </span>
                      ),
                    )}
                  </td>
                  <td>
                    {lacks.length === 0 ? (
                      <span className="text-ink2">nothing</span>
                    ) : (
                      <ul>
                        {lacks.slice(0, 3).map((one) => (
                          <li key={one.lack.words} className="flex gap-2">
                            <Mark kind={one.lack.stops ? "stop" : "mind"} />
                            <span>
                              {one.sizes && one.sizes !== "all sizes" ? (
                                <b className="font-semibold">{one.sizes}: </b>
                              ) : null}
                              {one.lack.words}
                            </span>
                          </li>
                        ))}
                        {lacks.length > 3 ? (
                          <li className="text-small text-ink2">
                            and {lacks.length - 3} more to check
                          </li>
                        ) : null}
                      </ul>
                    )}
                  </td>
                  <td className="pr-6! text-right whitespace-nowrap">
                    {lacks[0] ? (
                      <Link
                        className="font-semibold text-action hover:underline"
                        to={fixPath(row, lacks[0].lack.fix_at)}
                      >
                        {row.recipe_id === null && lacks[0].lack.fix_at !== "product"
                          ? "Propose one"
                          : FIX_WORDS[lacks[0].lack.fix_at]}
                      </Link>
                    ) : null}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      {list.data.pages > 1 ? (
        <p className="flex items-center gap-3 px-6 py-3">
          <Button disabled={page <= 1} onClick={() => setPage(page - 1)}>
            Before
          </Button>
          page {page} of {list.data.pages}
          <Button disabled={page >= list.data.pages} onClick={() => setPage(page + 1)}>
            Next
          </Button>
        </p>
      ) : null}
    </>
  );
}
