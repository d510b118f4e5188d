/** Cost of each: what one costs as the order grows, all in, to a place; where the postage steps. */
import { useQuery } from "@tanstack/react-query";
import { useDeferredValue } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";
import { products, unitCosts } from "../../api/recipes";
import { useActions } from "../../app/keys";
import { useFormat, useSession } from "../../app/session";
import { CostSteps } from "../../drawings/CostSteps";
import { Table } from "../../ui/list/Table";
import { Pick } from "../../ui/Pick";
import { Empty, Field, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { TryOnOrders } from "../../ui/TryOnOrders";
import { readPlace } from "./question";
import { RatesTabs } from "./RatesTabs";

const MOST = 12;

export function EachScreen() {
  const who = useSession();
  const format = useFormat();
  const [params, setParams] = useSearchParams();
  const list = useQuery(products());
  const rows = (list.data?.results ?? []).filter(
    (row) => row.recipe_name !== null && row.size !== null && row.weight_mg !== null,
  );
  const at = Math.max(
    0,
    rows.findIndex((row) => String(row.id) === params.get("product")),
  );
  const here = rows[at];
  const to = params.get("to") ?? `${who.country} ${who.postcode}`;
  const place = readPlace(useDeferredValue(to), who.country);
  const found = useQuery(unitCosts(here?.id ?? 0, place.country, place.postcode, MOST));
  const set = (change: Record<string, string>) =>
    setParams({ ...Object.fromEntries(params), ...change }, { replace: true });
  const go = (index: number) => {
    const row = rows[(index + rows.length) % rows.length];
    if (row) set({ product: String(row.id) });
  };
  useActions([
    { key: "arrowright", label: "Next product", run: () => go(at + 1) },
    { key: "arrowleft", label: "Product before", run: () => go(at - 1) },
  ]);
  if (list.isPending) return <Waiting what="your products" />;
  if (list.isError)
    return (
      <div className="p-6">
        <ProblemNote error={list.error} />
      </div>
    );
  const costs = found.data?.costs ?? [];
  const known = costs.filter((one) => one.each !== null);
  const best = known.reduce<(typeof known)[number] | undefined>(
    (low, one) => (low === undefined || Number(one.each) < Number(low.each) ? one : low),
    undefined,
  );
  return (
    <>
      <RatesTabs />
      <ScreenHead
        title={
          best && known[0]
            ? `From ${format.money(known[0].each ?? 0)} for one to ${format.money(best.each ?? 0)} each for ${best.units}`
            : "What does each cost as the order grows?"
        }
        under="Total: materials, minutes, postage and expected damage cost, as the recipe packs it; today's stock is not looked at"
      >
        <TryOnOrders change={{ kind: "charge" }}>What if buyers were charged otherwise</TryOnOrders>
      </ScreenHead>
      {here ? (
        <>
          <div className="flex flex-wrap items-end gap-4 border-t border-line bg-sheet px-6 py-3">
            <div>
              <span className="block text-small text-ink2">Product</span>
              <Pick
                label="Product"
                className="mt-1 min-h-10 w-96"
                value={String(here.id)}
                options={rows.map((row) => ({ value: String(row.id), text: row.name }))}
                onPick={(id) => set({ product: id })}
              />
            </div>
            <Field
              label="To, country and postcode"
              className="w-56"
              value={to}
              onChange={(event) => set({ to: event.target.value })}
            />
          </div>
          <div className="px-6">
            <ProblemNote error={found.error} />
          </div>
          {found.isPending ? (
            <Waiting what="orders of 1 to 12" />
          ) : (
            <div
              className="grid grid-cols-[minmax(0,1fr)_460px] border-t border-line bg-sheet max-lg:grid-cols-1"
              aria-busy={found.isPlaceholderData}
            >
              <div className="px-6 py-3">
                <CostSteps costs={costs} money={format.money} />
              </div>
              <CostTable costs={costs} />
            </div>
          )}
        </>
      ) : (
        <Empty title="No product is ready for this">
          <p>Products need a size, a weight and a recipe.</p>
        </Empty>
      )}
    </>
  );
}

type Cost = Schemas["UnitCostsOut"]["costs"][number];

function CostTable({ costs }: { costs: readonly Cost[] }) {
  const format = useFormat();
  return (
    <Table
      className="self-start border-l border-line max-lg:border-l-0"
      caption="Cost as the order grows"
      rows={costs}
      rowKey={(one) => one.units}
      columns={[
        { key: "units", name: "Units", num: true, className: "pl-4!", cell: (one) => one.units },
        {
          key: "each",
          name: "Each",
          num: true,
          className: "font-semibold",
          cell: (one) => (one.each === null ? "" : format.money(one.each)),
        },
        {
          key: "postage",
          name: "Postage",
          num: true,
          cell: (one) => (one.each === null ? "" : format.money(one.postage)),
        },
        {
          key: "how",
          name: "Container, service",
          className: "pl-4! text-small",
          cell: (one) =>
            one.each === null ? (
              <>
                <Mark kind="stop" /> {one.problem}
              </>
            ) : (
              <>
                {one.containers},{" "}
                <span className="text-ink2">
                  {one.services}, {format.weight(one.gross_mg)}
                </span>
              </>
            ),
        },
      ]}
    />
  );
}
