/** What fits: for a product or a mix, the most each container and flat-rate package takes, cost each, what fills the rest. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { fits, products } from "../../api/recipes";
import type { Schemas } from "../../api/client";
import { useActions } from "../../app/keys";
import { useFormat } from "../../app/session";
import { many } from "../../domain/words";
import { Combo } from "../../ui/Combo";
import { useAddress } from "../../ui/list/useList";
import { Button, Empty, Field, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { DeskTabs } from "./DeskTabs";
import { goodsFrom, goodsText } from "./fitGoods";

type Fit = Schemas["FitRow"];

export function FitsScreen() {
  const [params, set] = useAddress();
  const list = useQuery(products());
  const goods = goodsFrom(params.get("goods") ?? "");
  const found = useQuery(fits(goods));
  const [adding, setAdding] = useState(false);
  useActions([{ key: "n", label: "Another product", run: () => setAdding(true) }]);
  const rows = list.data?.results ?? [];
  const change = (now: typeof goods) => set({ goods: goodsText(now) });
  if (list.isPending) return <Waiting what="your products" />;
  if (list.isError)
    return (
      <div className="p-6">
        <ProblemNote error={list.error} />
      </div>
    );
  const mix = goods.length > 1 || (goods[0]?.units ?? 1) > 1;
  const data = goods.length > 0 ? found.data : undefined;
  return (
    <>
      <DeskTabs />
      <ScreenHead
        title={data ? titleOf(data, mix) : "What fits?"}
        under="The most each container takes as the recipe packs it, sent where your parcels usually go"
      >
        <Button kind="next" hotkey="N" onClick={() => setAdding(true)}>
          {goods.length === 0 ? "Choose a product" : "Another product"}
        </Button>
      </ScreenHead>
      <div className="border-t border-line bg-sheet px-6 py-3">
        <ul className="flex flex-wrap items-end gap-4">
          {goods.map((one) => (
            <li key={one.product_id} className="flex items-end gap-2">
              <Field
                className="w-20"
                label={`In a set`}
                type="number"
                min={1}
                max={100}
                value={one.units ?? 1}
                aria-label={`Units of ${rows.find((row) => row.id === one.product_id)?.name ?? ""}`}
                onChange={(event) =>
                  change(
                    goods.map((each) =>
                      each.product_id === one.product_id
                        ? { ...each, units: Math.max(1, Number(event.target.value) || 1) }
                        : each,
                    ),
                  )
                }
              />
              <span className="flex min-h-10 items-center">
                {rows.find((row) => row.id === one.product_id)?.name}
              </span>
              <Button
                kind="quiet"
                onClick={() => change(goods.filter((each) => each.product_id !== one.product_id))}
              >
                Remove
              </Button>
            </li>
          ))}
        </ul>
        {adding || goods.length === 0 ? (
          <div className="max-w-md pt-2">
            <Combo
              label="Product"
              value=""
              large
              options={rows
                .filter((row) => !goods.some((one) => one.product_id === row.id))
                .map((row) => ({ value: String(row.id), text: row.name }))}
              onPick={(option) => {
                change([...goods, { product_id: Number(option.value), units: 1 }]);
                setAdding(false);
              }}
              onClose={() => setAdding(false)}
            />
          </div>
        ) : null}
      </div>
      <div className="border-t border-line bg-sheet px-6 py-4">
        <ProblemNote error={goods.length > 0 ? found.error : null} />
        {data ? <Rows data={data} mix={mix} /> : null}
        {goods.length > 0 && found.isFetching && !data ? <Waiting what="what fits" /> : null}
      </div>
    </>
  );
}

function titleOf(data: Schemas["FitsOut"], mix: boolean): string {
  const best = data.rows[0];
  if (!best) return `Nothing takes ${data.goods}`;
  const most = data.rows.reduce((a, b) => (b.most > a.most ? b : a));
  const what = mix ? "set" : "unit";
  const takes = `${most.code} takes ${many(most.most, what)}`;
  return most.most === best.most
    ? `${best.code} takes most, ${many(best.most, what)}, and costs least each`
    : `${takes}; ${best.code} costs least each`;
}

function Rows({ data, mix }: { data: Schemas["FitsOut"]; mix: boolean }) {
  const format = useFormat();
  if (data.rows.length === 0)
    return (
      <Empty title="No container takes it">
        {data.none.map((reason, at) => (
          <p key={at}>{reason}</p>
        ))}
      </Empty>
    );
  const most = Math.max(...data.rows.map((row) => row.most));
  return (
    <>
      <table className="rule-table">
        <thead>
          <tr>
            <th>Container</th>
            <th>At most, {mix ? "sets" : "units"}</th>
            <th className="num">Each</th>
            <th className="num">In all</th>
            <th className="num">Postage</th>
            <th>Service</th>
            <th className="num">Weighs</th>
            <th className="num">Goods fill</th>
            <th>The rest</th>
          </tr>
        </thead>
        <tbody>
          {data.rows.map((row) => (
            <tr key={row.code} className={row.flat_rate ? "bg-soft" : ""}>
              <td>
                <b>{row.code}</b> {row.name}
                <span className="block text-small text-ink2">{marks(row)}</span>
              </td>
              <td>
                <span className="flex items-center gap-2">
                  <b className="w-6 text-right">{row.most}</b>
                  <span
                    aria-hidden="true"
                    className="h-3 bg-level"
                    style={{ width: `${(row.most / most) * 90}px` }}
                  />
                </span>
                {row.why_no_more ? (
                  <span className="block max-w-[260px] text-small text-ink2">
                    {row.why_no_more}
                  </span>
                ) : null}
              </td>
              <td className="num font-semibold">{format.money(row.each)}</td>
              <td className="num">{format.money(row.total)}</td>
              <td className="num">{format.money(row.postage)}</td>
              <td>{row.service}</td>
              <td className="num">{format.weight(row.gross_mg)}</td>
              <td className="num">{row.goods_percent === null ? "–" : `${row.goods_percent} %`}</td>
              <td>
                {row.fill_litres !== null && row.fill
                  ? `${format.volume(row.fill_litres)} ${row.fill}`
                  : "–"}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-2 text-small text-ink2">
        <Mark kind="ok" /> All in: materials, minutes, postage and expected loss, packed full. Tried
        up to {data.looked_to}. A carrier&rsquo;s own package is tinted.
      </p>
    </>
  );
}

function marks(row: Fit): string {
  const said = [];
  if (row.flat_rate) said.push("flat rate");
  if (row.in_recipe) said.push("in the recipe");
  if (row.change) said.push("cut down first");
  return said.join(", ");
}
