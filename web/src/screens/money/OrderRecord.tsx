/** An order's record: every line with its day and source; it sums to what is left. */
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { fixed, percent } from "../../domain/figures";
import { dayWords } from "../../domain/words";
import { Fold } from "../../ui/Fold";
import { Mark } from "../../ui/parts";
import { LINE_WORDS, SOURCE_WORDS } from "./words";

type Order = Schemas["MoneyOrder"];

export function OrderRecord({ order }: { order: Order }) {
  const format = useFormat();
  const left = Number(order.left);
  const lines = order.lines.filter((line) => line.kind !== "goods");
  return (
    <section aria-label={`Record of order ${order.number}`}>
      <h2 className="text-lead text-action">
        Order {order.number}:{" "}
        {left < 0 ? `${format.money(-left)} lost` : `${format.money(left)} left`}
      </h2>
      <p className="text-ink2">
        {order.buyer}, {order.channel}
        {order.packed_on ? `, packed ${dayWords(order.packed_on)}` : ", not packed yet"}
      </p>
      <table className="rule-table mt-2">
        <tbody>
          {order.goods.map((one) => (
            <tr key={one.name}>
              <td>
                {one.units} {one.name}
              </td>
              <td className="num">{format.signed(one.paid)}</td>
            </tr>
          ))}
          {lines.map((line, at) => (
            <tr
              key={`${line.kind} ${at}`}
              className={
                line.kind === "carrier_charge" || line.kind === "refund" ? "bg-mind-soft" : ""
              }
            >
              <td>
                {line.kind === "carrier_charge" || line.kind === "refund" ? (
                  <>
                    <Mark kind="mind" />{" "}
                  </>
                ) : null}
                {said(line, order)}
                <span className={`text-small text-ink2 ${line.reference ? "block" : "ml-2"}`}>
                  {SOURCE_WORDS[line.source] ?? line.source}
                  {line.reference ? `: ${line.reference}` : ""}
                  {line.on !== order.packed_on ? `, ${dayWords(line.on)}` : ""}
                </span>
              </td>
              <td className="num">{format.signed(line.amount)}</td>
            </tr>
          ))}
          <tr className="border-t-2 border-ink text-lead">
            <td>
              <b>{left < 0 ? "Lost" : "Left"}</b>{" "}
              {order.margin === null ? null : (
                <span className="text-base text-ink2">
                  {percent(Math.abs(order.margin), 1)} of {format.money(order.income)}
                </span>
              )}
            </td>
            <td className="num font-semibold">{format.signed(order.left)}</td>
          </tr>
        </tbody>
      </table>
      {order.materials.length > 0 ? (
        <Fold
          open={false}
          title={`What it drew from the shelf, ${order.materials.length} supplies`}
        >
          <table className="rule-table">
            <tbody>
              {order.materials.map((one) => (
                <tr key={one.code}>
                  <td>
                    <b>{one.code}</b> {one.name}
                  </td>
                  <td className="num">{fixed(Number(one.quantity), 0, 2)}</td>
                  <td className="num">{format.exactMoney(one.cost)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </Fold>
      ) : null}
      <p className="mt-3 text-small">
        <Link className="text-action underline" to={`/plan/${order.order_id}`}>
          Open the parcel
        </Link>
      </p>
    </section>
  );
}

function said(line: Schemas["RecordLine"], order: Order): string {
  if (line.kind === "labour")
    return `${fixed(Number(order.minutes), 1)} minutes at ${fixed(Number(order.wage_per_hour), 2)} an hour${order.timed ? "" : ", as planned"}`;
  if (line.kind === "postage" && order.zone)
    return `${order.service || "Postage"}, zone ${order.zone}`;
  return LINE_WORDS[line.kind];
}
