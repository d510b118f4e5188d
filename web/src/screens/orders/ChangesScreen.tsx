/** Orders that came again otherwise, and orders that could leave as one parcel: what each does, before it is done. */
import { useMutation, useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link, useNavigate } from "react-router";
import type { Schemas } from "../../api/client";
import {
  applyChange,
  ignoreChange,
  joinOrders,
  changeEffect,
  joinEffect,
  joinOffers,
  orderChanges,
} from "../../api/orders";
import { useActions } from "../../app/keys";
import { useFormat } from "../../app/session";
import { goodsWords, many, momentWords } from "../../domain/words";
import { useToast } from "../../ui/useToast";
import { Button, Empty, Mark, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { Effect } from "./Effect";
import { PART_WORDS } from "./differences";

type Change = Schemas["OrderChangeOut"];
type Offer = Schemas["JoinOut"];

export function ChangesScreen() {
  const navigate = useNavigate();
  const changes = useQuery(orderChanges());
  const joins = useQuery(joinOffers());
  useActions([{ key: "escape", label: "Back to the orders", run: () => void navigate("/orders") }]);
  const some = changes.data?.results ?? [];
  const offers = joins.data?.offers ?? [];
  const nothing = changes.isSuccess && joins.isSuccess && some.length + offers.length === 0;
  return (
    <>
      <ScreenHead
        title={some.length > 0 ? `${many(some.length, "order")} changed or cancelled` : "Changes"}
        under="Nothing is done before you say so. Until then a changed order is held."
      >
        <Button hotkey="Esc" onClick={() => void navigate("/orders")}>
          Back
        </Button>
      </ScreenHead>
      <div className="border-t border-line bg-sheet">
        <div className="px-6">
          <ProblemNote error={changes.error ?? joins.error} />
        </div>
        {changes.isPending || joins.isPending ? <Waiting what="the changes" /> : null}
        {nothing ? (
          <Empty title="Nothing to look at">
            <p>Orders a channel changes or cancels are shown here.</p>
          </Empty>
        ) : null}
        {some.map((one) => (
          <OneChange key={one.id} change={one} />
        ))}
        {offers.length > 0 ? (
          <>
            <h2 className="border-b border-line px-6 pb-2 pt-5 text-[21px]">
              Could leave as one parcel
            </h2>
            {offers.map((one) => (
              <OneOffer key={one.orders.map((order) => order.id).join("-")} offer={one} />
            ))}
          </>
        ) : null}
      </div>
    </>
  );
}

function Row({
  title,
  children,
  effect,
  actions,
}: {
  title: ReactNode;
  children: ReactNode;
  effect: ReactNode;
  actions: ReactNode;
}) {
  return (
    <article className="grid grid-cols-[minmax(0,1fr)_minmax(0,22rem)] gap-x-8 gap-y-3 border-b border-line px-6 py-4 max-lg:grid-cols-1">
      <div>
        <h3 className="text-[18px] font-semibold">{title}</h3>
        {children}
        <div className="mt-3 flex flex-wrap gap-3">{actions}</div>
      </div>
      <div>{effect}</div>
    </article>
  );
}

function OneChange({ change }: { change: Change }) {
  const say = useToast();
  const { order, kind } = change;
  const effect = useQuery(changeEffect(change.id));
  const told = {
    onError: (error: Error) => say(error.message, "stop"),
  };
  const apply = useMutation({
    ...applyChange(),
    ...told,
    onSuccess: () =>
      say(
        kind === "cancelled"
          ? `Order ${order.number} is cancelled.`
          : `Order ${order.number} is as its channel says now.`,
      ),
  });
  const ignore = useMutation({
    ...ignoreChange(),
    ...told,
    onSuccess: () => say(`Order ${order.number} stays as it is.`),
  });
  const busy = apply.isPending || ignore.isPending;
  return (
    <Row
      title={
        <>
          <Mark kind={kind === "cancelled" ? "stop" : "mind"} /> {order.number}, {order.buyer}:{" "}
          {kind === "cancelled" ? "cancelled by its channel" : "changed"}
        </>
      }
      effect={
        <>
          <ProblemNote error={effect.error} />
          {effect.data ? <Effect effect={effect.data} /> : <Waiting what="what it does" />}
        </>
      }
      actions={
        <>
          <Button
            kind={change.may_apply ? "next" : "plain"}
            disabled={busy || !change.may_apply}
            onClick={() => apply.mutate(change.id)}
          >
            {kind === "cancelled" ? "Cancel the order" : "Apply the change"}
          </Button>
          <Button disabled={busy} onClick={() => ignore.mutate(change.id)}>
            Ignore it
          </Button>
        </>
      }
    >
      <p className="text-ink2">
        {order.channel}, {momentWords(change.came_at)}. {goodsWords(order.lines)}
      </p>
      <ul className="mt-1">
        {change.differences.map((one) => (
          <li key={one.part + one.of}>
            {PART_WORDS[one.part]}
            {one.of ? ` ${one.of}` : ""}: <s className="text-ink2">{one.before || "none"}</s>{" "}
            <b>{one.after || "none"}</b>
          </li>
        ))}
      </ul>
      {change.may_apply ? null : <p className="mt-1 text-mind">{blocked(order)}</p>}
      {order.parcel_id && order.state === "bench" ? (
        <Link className="text-action underline" to={`/bench/${order.parcel_id}`}>
          Open it at the bench
        </Link>
      ) : null}
    </Row>
  );
}

function blocked(order: Change["order"]): string {
  if (order.state === "bench")
    return "It is at the bench. Take it off there first (H), then apply.";
  if (order.state === "packed")
    return `It is packed already${order.tracking ? ` (${order.tracking})` : ""}. Open its parcel again, or tell the buyer.`;
  return "It is packed with another order. Part them on the Orders screen first.";
}

function OneOffer({ offer }: { offer: Offer }) {
  const say = useToast();
  const ids = offer.orders.map((order) => order.id);
  const effect = useQuery(joinEffect(ids));
  const join = useMutation({
    ...joinOrders(),
    onSuccess: (lead) =>
      say(`Orders ${[lead.number, ...lead.joined].join(" and ")} are one parcel.`),
    onError: (error) => say(error.message, "stop"),
  });
  const format = useFormat();
  const { before, after } = effect.data ?? {};
  const saves =
    before?.planned && after?.planned ? Number(before.total) - Number(after.total) : null;
  return (
    <Row
      title={`${offer.buyer}, ${many(offer.orders.length, "order")} to ${offer.place.map(String).join(", ")}`}
      effect={
        <>
          <ProblemNote error={effect.error} />
          {effect.data ? <Effect effect={effect.data} /> : <Waiting what="what it does" />}
        </>
      }
      actions={
        <Button
          kind={saves !== null && saves > 0 ? "next" : "plain"}
          disabled={join.isPending}
          onClick={() => join.mutate(ids)}
        >
          Pack as one parcel
        </Button>
      }
    >
      {saves === null ? null : (
        <p className={saves > 0 ? "font-semibold" : "text-ink2"}>
          {saves > 0
            ? `One parcel costs ${format.money(saves)} less than ${offer.orders.length}.`
            : `One parcel costs ${format.money(-saves)} more than ${offer.orders.length}: leave them apart, unless the buyer wants one.`}
        </p>
      )}
      <ul className="mt-1">
        {offer.orders.map((order) => (
          <li key={order.id}>
            <b>{order.number}</b> {goodsWords(order.lines)}
          </li>
        ))}
      </ul>
    </Row>
  );
}
