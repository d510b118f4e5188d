/** Plan: what is this parcel, what will it weigh and cost, what would be cheaper? */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { beginParcel } from "../../api/bench";
import type { Schemas } from "../../api/client";
import { orderPlan, orders } from "../../api/orders";
import { useActions } from "../../app/keys";
import { dayWords, goodsWords } from "../../domain/words";
import { useToast } from "../../ui/useToast";
import { Button, Notice, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { Blocked } from "./Blocked";
import { CancelSheet } from "./CancelSheet";
import { HoldSheet } from "./HoldSheet";
import { OverrideSheet } from "./OverrideSheet";
import { Planned } from "./Planned";
import { RoomSheet } from "./RoomSheet";
import { cardOf, useChoose } from "./useChoose";

type Answer = Schemas["OrderPlanOut"];

export function PlanScreen() {
  const orderId = Number(useParams().orderId);
  const plan = useQuery(orderPlan(orderId));
  if (plan.isPending) return <Waiting what="the plan" />;
  if (plan.isError)
    return (
      <div className="p-6">
        <ProblemNote error={plan.error} />
      </div>
    );
  return <PlanOf key={`${orderId}-${plan.data.planned_at}`} data={plan.data} />;
}

/** The planned orders before and after this one. */
function useNeighbours(id: number) {
  const planned = useQuery(orders("planned", "", 1));
  const rows = planned.data?.results ?? [];
  const at = rows.findIndex((row) => row.id === id);
  return {
    before: at > 0 ? rows[at - 1]?.id : undefined,
    after: at === -1 ? rows[0]?.id : rows[at + 1]?.id,
    at,
    of: planned.data?.count ?? 0,
  };
}

function PlanOf({ data }: { data: Answer }) {
  const { order, plan } = data;
  const navigate = useNavigate();
  const say = useToast();
  const next = useNeighbours(order.id);
  const [holding, setHolding] = useState(false);
  const [cancelling, setCancelling] = useState(false);
  const [asking, setAsking] = useState(false);
  const [deciding, setDeciding] = useState(false);
  const choose = useChoose(order.id);
  const begin = useMutation({
    ...beginParcel(),
    onSuccess: (parcel) => {
      void navigate(`/bench/${parcel.id}`);
    },
    onError: (error) => say(error.message, "stop"),
  });
  const go = (id: number | undefined) => {
    if (id !== undefined) void navigate(`/plan/${id}`);
  };
  const open = ["new", "held", "planned"].includes(order.state);
  const ready = order.state === "planned";
  useActions([
    { key: "enter", label: "Send to the bench", run: () => begin.mutate(order.id), off: !ready },
    { key: "h", label: "Hold this order", run: () => setHolding(true), off: !open },
    {
      key: "m",
      label: "How many more fit?",
      run: () => setAsking(true),
      off: plan.status !== "planned",
    },
    {
      key: "o",
      label: "Override for this order: containers, days, a note",
      run: () => setDeciding(true),
      off: !open,
    },
    {
      key: "p",
      label: "Print the pack card",
      run: () => window.open(cardOf(order.id), "_blank", "noopener"),
      off: plan.status !== "planned",
    },
    {
      key: "c",
      label: "Change the order",
      run: () => void navigate(`/orders/${order.id}/change`),
      off: !open,
    },
    { key: "]", label: "Next planned order", run: () => go(next.after) },
    { key: "[", label: "Planned order before", run: () => go(next.before) },
  ]);
  const where = `to ${order.address.at(-1) ?? ""} ${order.postcode}`;
  return (
    <>
      <ScreenHead
        title={
          <>
            Order {order.number}, {order.buyer}
          </>
        }
        under={
          <span className="[&>span]:mr-4">
            <span>{goodsWords(order.lines)}</span>
            <span>{where}</span>
            <span>leaves {dayWords(data.ship_on)}</span>
            {next.at >= 0 ? (
              <span className="max-2xl:hidden">
                {next.at + 1} of {next.of} planned
              </span>
            ) : null}
          </span>
        }
      >
        <Actions
          order={order}
          open={open}
          busy={begin.isPending}
          onOverride={() => setDeciding(true)}
          onHold={() => setHolding(true)}
          onCancel={() => setCancelling(true)}
          onBegin={() => begin.mutate(order.id)}
        />
      </ScreenHead>
      <Notes data={data} />
      {plan.status === "planned" ? (
        <Planned
          order={order}
          plan={plan}
          overrides={data.overrides}
          care={data.care}
          choose={choose}
          onDecide={() => setDeciding(true)}
          onRoom={() => setAsking(true)}
        />
      ) : (
        <Blocked
          orderId={order.id}
          plan={plan}
          decided={data.overrides}
          onUse={(container) => choose.mutate(container)}
        />
      )}
      <OverrideSheet data={data} open={deciding} onOpenChange={setDeciding} />
      <RoomSheet orderId={order.id} open={asking} onOpenChange={setAsking} />
      <HoldSheet order={order} open={holding} onOpenChange={setHolding} />
      <CancelSheet order={order} open={cancelling} onOpenChange={setCancelling} />
    </>
  );
}

interface ActionsProps {
  order: Schemas["OrderOut"];
  open: boolean;
  busy: boolean;
  onOverride: () => void;
  onHold: () => void;
  onCancel: () => void;
  onBegin: () => void;
}

function Actions({ order, open, busy, onOverride, onHold, onCancel, onBegin }: ActionsProps) {
  const navigate = useNavigate();
  return (
    <>
      {open ? (
        <Button hotkey="O" onClick={onOverride}>
          Override
        </Button>
      ) : null}
      {open && !order.held_by ? (
        <Button hotkey="H" onClick={onHold}>
          Hold
        </Button>
      ) : null}
      {open ? (
        <Button hotkey="C" onClick={() => void navigate(`/orders/${order.id}/change`)}>
          Change
        </Button>
      ) : null}
      {open ? <Button onClick={onCancel}>Cancel order</Button> : null}
      {order.parcel_id ? (
        <Button kind="next" onClick={() => void navigate(`/bench/${order.parcel_id}`)}>
          Open at the bench
        </Button>
      ) : (
        <Button
          kind="next"
          hotkey="Enter"
          disabled={order.state !== "planned" || busy}
          onClick={onBegin}
        >
          Send to the bench
        </Button>
      )}
    </>
  );
}

/** What whoever plans must know of the order: held, a gift, the buyer's words, a note for the packer. */
function Notes({ data }: { data: Answer }) {
  const { order } = data;
  return (
    <>
      {order.held_by && order.held_by !== "weather" ? (
        <Notice kind="mind">
          <b>Held.</b> {order.reason}{" "}
          <Link className="ml-2 text-action underline" to="/orders?state=held">
            Release it under Orders
          </Link>
        </Notice>
      ) : null}
      {order.gift ? <Notice kind="mind">It is a gift.</Notice> : null}
      {order.note && !order.held_by ? (
        <Notice kind="mind">The buyer writes: “{order.note}”</Notice>
      ) : null}
      {data.overrides.note ? (
        <Notice kind="mind">For the packer: {data.overrides.note}</Notice>
      ) : null}
    </>
  );
}
