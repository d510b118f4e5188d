/** The list by supplier: each line with its reason in words, its amount and its cost. */
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { dayWords } from "../../domain/words";
import type { StockUnit } from "../../domain/units";
import { Mark } from "../../ui/parts";
import { eachCost, whyWords } from "./shown";

interface Props {
  data: Schemas["BuyListOut"];
  picked: number | null;
  onPick: (supply: number) => void;
  onDrop: (supply: number) => void;
}

export function OrderLines({ data, picked, onPick, onDrop }: Props) {
  const format = useFormat();
  return (
    <>
      {data.orders.map((order) => (
        <section key={order.supplier_id} className="mt-4" aria-label={order.supplier}>
          <h2 className="flex items-baseline justify-between gap-4 border-b border-ink pb-1 text-lead">
            <span>
              {order.supplier}{" "}
              <span className="font-text text-base font-normal text-ink2">
                {order.order_by === null
                  ? ""
                  : order.order_by <= data.today
                    ? "order today"
                    : `order by ${dayWords(order.order_by)}`}
                , arrives {dayWords(order.arrives_on)}
              </span>
            </span>
            <b>{format.money(order.total)}</b>
          </h2>
          <ul>
            {order.lines.map((line) => (
              <li
                key={line.supply_id}
                aria-current={line.supply_id === picked ? "true" : undefined}
                className={`flex items-center gap-3 border-b border-line ${line.supply_id === picked ? "bg-soft" : ""}`}
              >
                <input
                  type="checkbox"
                  checked
                  className="size-5 shrink-0 accent-action"
                  aria-label={`Buy ${line.name}; clear to leave it out`}
                  onChange={() => onDrop(line.supply_id)}
                />
                <button
                  type="button"
                  className="flex min-h-11 min-w-0 grow items-baseline gap-3 py-1.5 text-left"
                  onClick={() => onPick(line.supply_id)}
                >
                  <span className="min-w-0 grow">
                    <b>{line.code}</b> {line.name}{" "}
                    <span className={line.too_late ? "text-stop" : "text-ink2"}>
                      {line.too_late ? <Mark kind="stop" /> : null} {whyWords(line, data.today)}
                    </span>
                    {line.edited ? <span className="text-ink2"> (your amount)</span> : null}
                  </span>
                  <span className="w-24 shrink-0 text-right">
                    {format.quantity(line.quantity, line.unit as StockUnit)}
                  </span>
                  <span className="w-24 shrink-0 whitespace-nowrap text-right text-ink2">
                    {eachCost(format, line.unit)(line.each)}
                  </span>
                  <span className="w-16 shrink-0 text-right font-semibold">
                    {format.money(line.goods_cost)}
                  </span>
                </button>
              </li>
            ))}
            <li className="flex justify-between border-b border-line py-1.5 pl-8 text-ink2">
              <span>
                Delivery
                {order.free_from === null
                  ? ""
                  : Number(order.delivery_cost) === 0
                    ? `, free from ${format.money(order.free_from)}`
                    : `, free from ${format.money(order.free_from)}: ${format.money(Number(order.free_from) - Number(order.goods_cost))} short`}
              </span>
              <span>{format.money(order.delivery_cost)}</span>
            </li>
          </ul>
        </section>
      ))}
    </>
  );
}
