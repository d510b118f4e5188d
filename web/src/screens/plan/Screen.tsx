/** Plan: what is this parcel, what will it weigh and cost, what would be cheaper? */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { answer, api, type Schemas } from "../../api/client";
import { orderPlan, orders, rail } from "../../api/queries";
import { useActions } from "../../app/keys";
import { useFormat } from "../../app/session";
import { dayWords, goodsWords, parcelName } from "../../domain/words";
import { useToast } from "../../ui/overlays";
import { Button, Mark, Notice, ProblemNote, ScreenHead, Waiting } from "../../ui/parts";
import { Advice } from "./Advice";
import { Alternatives } from "./Alternatives";
import { Blocked } from "./Blocked";
import { CostBreakdown } from "./CostBreakdown";
import { HoldSheet } from "./HoldSheet";
import { NearSteps } from "./NearSteps";
import { OverrideSheet } from "./OverrideSheet";
import { ParcelPicture } from "./ParcelPicture";
import { RoomSheet } from "./RoomSheet";

const cardOf = (id: number) => `/api/orders/${id}/plan/card.pdf`;

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
  const client = useQueryClient();
  const say = useToast();
  const next = useNeighbours(order.id);
  const [holding, setHolding] = useState(false);
  const [asking, setAsking] = useState(false);
  const [deciding, setDeciding] = useState(false);
  const choose = useChoose(order);
  const begin = useMutation({
    mutationFn: () => answer(api.POST("/api/parcels/begin", { body: { order_id: order.id } })),
    onSuccess: (parcel) => {
      void client.invalidateQueries({ queryKey: rail().queryKey });
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
    { key: "enter", label: "Send to the bench", run: () => begin.mutate(), off: !ready },
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
              <span>
                {next.at + 1} of {next.of} planned
              </span>
            ) : null}
          </span>
        }
      >
        {open ? (
          <Button hotkey="O" onClick={() => setDeciding(true)}>
            Override
          </Button>
        ) : null}
        {open && !order.held_by ? (
          <Button hotkey="H" onClick={() => setHolding(true)}>
            Hold
          </Button>
        ) : null}
        {order.parcel_id ? (
          <Button kind="next" onClick={() => void navigate(`/bench/${order.parcel_id}`)}>
            Open at the bench
          </Button>
        ) : (
          <Button
            kind="next"
            hotkey="Enter"
            disabled={!ready || begin.isPending}
            onClick={() => begin.mutate()}
          >
            Send to the bench
          </Button>
        )}
      </ScreenHead>
      {order.held_by ? (
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
      {plan.status === "planned" ? (
        <Planned
          order={order}
          plan={plan}
          overrides={data.overrides}
          choose={choose}
          onDecide={() => setDeciding(true)}
          onRoom={() => setAsking(true)}
        />
      ) : (
        <Blocked plan={plan} onUse={(container) => choose.mutate(container)} />
      )}
      <OverrideSheet data={data} open={deciding} onOpenChange={setDeciding} />
      <RoomSheet orderId={order.id} open={asking} onOpenChange={setAsking} />
      <HoldSheet order={order} open={holding} onOpenChange={setHolding} />
    </>
  );
}

type Choose = ReturnType<typeof useChoose>;

/** A container chosen by a person, or the choice taken back. */
function useChoose(order: Schemas["OrderOut"]) {
  const client = useQueryClient();
  const say = useToast();
  return useMutation({
    mutationFn: (container: string | null) =>
      answer(
        api.POST("/api/orders/{order_id}/plan/container", {
          params: { path: { order_id: order.id } },
          body: { container },
        }),
      ),
    onSuccess: (now) => {
      client.setQueryData(orderPlan(order.id).queryKey, now);
      void client.invalidateQueries({ queryKey: ["orders"] });
      void client.invalidateQueries({ queryKey: rail().queryKey });
    },
    onError: (error) => say(error.message, "stop"),
  });
}

const firstUnits = (layers: readonly { kind: string }[]) =>
  Math.max(
    0,
    layers.findIndex((one) => one.kind === "units"),
  );

interface PlannedProps {
  order: Schemas["OrderOut"];
  plan: Schemas["PlanView"];
  overrides: Schemas["OverridesOut"];
  choose: Choose;
  onDecide: () => void;
  onRoom: () => void;
}

function Planned({ order, plan, overrides, choose, onDecide, onRoom }: PlannedProps) {
  const format = useFormat();
  const [shown, setShown] = useState(0);
  const [picked, setPicked] = useState<{ way: number; parcel: number; layer: number } | null>(null);
  const way = plan.ways[shown] ?? plan.ways[0];
  const mine = picked?.way === shown ? picked : null;
  const number = Math.min(mine?.parcel ?? 0, (way?.parcels.length ?? 1) - 1);
  const parcel = way?.parcels[number];
  const layers = parcel?.layers ?? [];
  // Another way or parcel begins at its own first layer of goods.
  const at = Math.min(
    mine && mine.layer >= 0 ? mine.layer : firstUnits(layers),
    Math.max(0, layers.length - 1),
  );
  const setLayer = (layer: number) => setPicked({ way: shown, parcel: number, layer });
  const setParcel = (to: number, layer = -1) => setPicked({ way: shown, parcel: to, layer });
  const forward = () => {
    if (at < layers.length - 1) setLayer(at + 1);
    else if (way && number < way.parcels.length - 1) setParcel(number + 1, 0);
  };
  const backward = () => {
    if (at > 0) setLayer(at - 1);
    else if (way && number > 0)
      setParcel(number - 1, (way.parcels[number - 1]?.layers.length ?? 1) - 1);
  };
  const cartons = parcel?.candidate.strapped?.cartons;
  const editable = order.parcel_id === null;
  useActions([
    { key: "arrowdown", label: "Next layer", run: forward },
    { key: "arrowup", label: "Layer before", run: backward },
    {
      key: "arrowright",
      label: "Next other way to send it",
      run: () => setShown((n) => Math.min(n + 1, plan.ways.length - 1)),
    },
    { key: "arrowleft", label: "Way before", run: () => setShown((n) => Math.max(n - 1, 0)) },
    {
      key: "u",
      label: "Use the way that is shown",
      run: () => way && !way.chosen && choose.mutate(way.key),
      off: !editable,
    },
    ...(way && way.parcels.length > 1
      ? way.parcels.slice(0, 9).map((_, index) => ({
          key: String(index + 1),
          label: `Parcel ${index + 1}`,
          run: () => setParcel(index),
        }))
      : []),
  ]);
  if (!way || !parcel) return null;
  return (
    <>
      <Advice order={order} plan={plan} decided={overrides} editable={editable} />
      {plan.warnings.map((warning) => (
        <Notice key={warning} kind="mind">
          {way.chosen ? null : <b>For the chosen way: </b>}
          {warning}
        </Notice>
      ))}
      {overrides.forbidden.length + overrides.may_lie_down.length + overrides.shares.length > 0 ||
      overrides.parcels !== null ? (
        <Notice
          kind="mind"
          action={
            <Button disabled={!editable} onClick={onDecide}>
              Change
            </Button>
          }
        >
          <b>Overridden.</b>{" "}
          {overrides.forbidden.length > 0 ? `Not ${overrides.forbidden.join(", ")}. ` : ""}
          {overrides.may_lie_down.length > 0
            ? `May lie on any side: ${order.lines
                .filter((line) => overrides.may_lie_down.includes(line.sku))
                .map((line) => line.title || line.sku)
                .join("; ")}.`
            : ""}
          {overrides.parcels !== null
            ? ` To go in ${overrides.parcels === 1 ? "one parcel" : `${overrides.parcels} parcels`}.`
            : ""}
          {overrides.shares.length > 0 ? " What goes into which parcel was set by hand." : ""}
        </Notice>
      ) : null}
      <div className="grid grid-cols-[284px_minmax(0,1fr)_330px] border-t border-line bg-sheet max-lg:grid-cols-[220px_minmax(0,1fr)]">
        {way.parcels.length > 1 ? (
          <div
            role="group"
            aria-label="Parcels of this order"
            className="col-span-full flex flex-wrap gap-x-6 border-b border-line px-5"
          >
            {way.parcels.map((one, index) => (
              <button
                key={index}
                type="button"
                aria-pressed={index === number}
                onClick={() => setParcel(index)}
                className={`min-h-11 border-b-2 text-left ${index === number ? "border-action text-ink" : "border-transparent text-ink2 hover:text-ink"}`}
              >
                <b className="mr-2">Parcel {index + 1}</b>
                {goodsWords(
                  one.goods.map((line) => ({ quantity: line.units, title: line.name })),
                )}{" "}
                <span className="text-ink2">
                  in {parcelName(one.candidate, format.length)},{" "}
                  {format.weight(one.candidate.weight.gross_mg)}
                </span>{" "}
                {index < 9 ? <span className="keycap">{index + 1}</span> : null}
              </button>
            ))}
          </div>
        ) : null}
        <ol className="border-r border-line pt-3" aria-label="Packed in this order">
          <li className="px-5 pb-1.5 font-head text-ink2">Packed in this order</li>
          {layers.map((one, index) => (
            <li key={index}>
              {cartons && one.kind !== "strap" && one.carton !== layers[index - 1]?.carton ? (
                <p className="border-t border-line px-5 pb-1 pt-2 font-head text-small text-ink2">
                  Carton {one.carton + 1}: {cartons[one.carton]?.candidate.name}
                </p>
              ) : null}
              <button
                type="button"
                aria-pressed={index === at}
                onClick={() => setLayer(index)}
                className={`grid w-full grid-cols-[26px_1fr] border-t border-line px-5 py-[5px] text-left ${index === at ? "bg-soft" : "hover:bg-ground"}`}
              >
                <span className={`font-semibold ${index === at ? "text-action" : "text-ink2"}`}>
                  {index + 1}
                </span>
                <span className="min-w-0">
                  <span className="block leading-snug">{one.title}</span>
                  {index === at ? (
                    <span className="block text-small leading-snug text-ink2">{one.detail}</span>
                  ) : null}
                </span>
              </button>
            </li>
          ))}
        </ol>
        <ParcelPicture parcel={parcel} at={at} />
        <CostBreakdown
          way={way}
          shown={number}
          charged={order.postage_charged}
          supplies={plan.supplies}
          near={
            <NearSteps
              order={order}
              wayKey={way.key}
              number={number}
              parcel={parcel}
              editable={editable}
            />
          }
        />
      </div>
      <div className="flex items-start gap-2 border-y border-line px-6 py-2">
        <Mark kind="ok" />
        <p className="grow">{plan.why}</p>
        <button type="button" className="whitespace-nowrap text-action underline" onClick={onRoom}>
          How many more fit?
        </button>{" "}
        <span className="keycap">M</span>
        <a
          className="ml-3 whitespace-nowrap text-action underline"
          href={cardOf(order.id)}
          target="_blank"
          rel="noreferrer"
        >
          Pack card
        </a>{" "}
        <span className="keycap">P</span>
      </div>
      <Alternatives
        ways={plan.ways}
        ruledOut={plan.ruled_out}
        shown={shown}
        onShow={setShown}
        onUse={editable ? (code) => choose.mutate(code) : undefined}
      />
    </>
  );
}
