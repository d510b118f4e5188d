/** The orders as a table: what came, for whom, where each stands and why. */
import { useMutation } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { partOrders, releaseOrder } from "../../api/orders";
import { Link } from "react-router";
import { useFormat } from "../../app/session";
import { dayWords, goodsWords, STATE_WORDS } from "../../domain/words";
import { Table } from "../../ui/list/Table";
import { useToast } from "../../ui/useToast";
import { Mark } from "../../ui/parts";

export type Order = Schemas["OrderOut"];

interface Props {
  rows: Order[];
  at: number;
  onAt: (index: number) => void;
  onOpen: (order: Order) => void;
}

export function OrderTable({ rows, at, onAt, onOpen }: Props) {
  const format = useFormat();
  return (
    <Table
      caption="Orders with their status and the reason"
      opens
      rows={rows}
      rowKey={(order) => order.id}
      picked={(_, index) => index === at}
      onOver={onAt}
      columns={[
        {
          key: "order",
          name: "Order",
          className: "pl-6!",
          cell: (order) => (
            <button
              type="button"
              className="font-semibold text-action hover:underline"
              onClick={() => onOpen(order)}
            >
              {order.number}
            </button>
          ),
        },
        {
          key: "came",
          name: "Came",
          className: "whitespace-nowrap text-ink2",
          cell: (order) => dayWords(order.placed_on),
        },
        {
          key: "buyer",
          name: "For",
          cell: (order) => (
            <>
              {order.buyer}
              <span className="block text-small text-ink2">
                {order.address.at(-1)} {order.postcode}
              </span>
            </>
          ),
        },
        {
          key: "goods",
          name: "Goods",
          className: "max-w-72",
          cell: (order) => (
            <>
              {goodsWords(order.lines)}
              {order.joined.length > 0 ? <Joined order={order} /> : null}
              {order.note ? (
                <span className="block text-small text-ink2">“{order.note}”</span>
              ) : null}
            </>
          ),
        },
        {
          key: "status",
          name: "Status",
          className: "max-w-96",
          cell: (order) => <Standing order={order} />,
        },
        { key: "container", name: "In", num: true, cell: (order) => order.container || "" },
        {
          key: "total",
          name: "Total cost",
          num: true,
          cell: (order) => (order.total ? format.money(order.total) : ""),
        },
        {
          key: "paid",
          name: "Postage paid",
          num: true,
          className: "pr-6!",
          cell: (order) => format.money(order.postage_charged),
        },
      ]}
    />
  );
}

/** The orders that leave in the same parcel, and the way back. */
function Joined({ order }: { order: Order }) {
  const say = useToast();
  const part = useMutation({
    ...partOrders(),
    onSuccess: () => say(`Order ${order.number} and the others are packed apart again.`),
    onError: (error) => say(error.message, "stop"),
  });
  return (
    <span className="block text-small text-ink2">
      with {order.joined.join(", ")}, one parcel
      {["new", "planned", "held"].includes(order.state) ? (
        <button
          type="button"
          className="ml-2 min-h-8 text-action underline"
          disabled={part.isPending}
          onClick={() => part.mutate(order.id)}
        >
          Part them
        </button>
      ) : null}
    </span>
  );
}

function Standing({ order }: { order: Order }) {
  const say = useToast();
  const release = useMutation({
    ...releaseOrder(),
    onSuccess: (now) => {
      say(`Order ${now.number} is ${STATE_WORDS[now.state] ?? now.state} now.`);
    },
    onError: (error) => say(error.message, "stop"),
  });
  if (order.state === "held") {
    return (
      <div className="flex items-start gap-2">
        <Mark kind={order.held_by ? "mind" : "stop"} />
        <div>
          <b className={order.held_by ? "text-mind" : "text-stop"}>Held.</b> {order.reason}
          {order.held_by === "changed" ? (
            <Link className="ml-2 text-action underline" to="/orders/changes">
              Look at it
            </Link>
          ) : order.held_by ? (
            <button
              type="button"
              className="ml-2 text-action underline"
              disabled={release.isPending}
              onClick={() => release.mutate(order.id)}
            >
              Release
            </button>
          ) : null}
        </div>
      </div>
    );
  }
  if (order.state === "cancelled")
    return (
      <span>
        <b>Cancelled.</b> {order.reason}
        <button
          type="button"
          className="ml-2 min-h-8 text-action underline"
          disabled={release.isPending}
          onClick={() => release.mutate(order.id)}
        >
          Open again
        </button>
      </span>
    );
  if (order.state === "joined")
    return (
      <span className="text-ink2">
        Packed with {order.joined_into} {order.tracking}
      </span>
    );
  if (order.state === "packed")
    return (
      <span>
        <Mark kind="done" /> Packed <span className="text-ink2">{order.tracking}</span>
      </span>
    );
  return (
    <span className={order.state === "bench" ? "font-semibold" : "text-ink2"}>
      {(STATE_WORDS[order.state] ?? order.state).replace(/^./, (c) => c.toUpperCase())}
    </span>
  );
}
