/** The plan of an order: its parcels, their layers in order, the picture, the cost, and other ways to send it. */
import { lazy, Suspense, useState } from "react";
import type { Schemas } from "../../api/client";
import { useActions } from "../../app/keys";
import { useFormat, useSession } from "../../app/session";
import { goodsWords, parcelName } from "../../domain/words";
import { BESIDE, Button, Mark, Notice } from "../../ui/parts";
import { Advice } from "./Advice";
import { Alternatives } from "./Alternatives";
import { CostBreakdown } from "./CostBreakdown";
import { NearSteps } from "./NearSteps";
import { ParcelPicture } from "./ParcelPicture";
import { cardOf, type Choose } from "./useChoose";

/** Fetched for orders whose goods have a limit of heat or cold. */
const Care = lazy(() => import("./Care"));

interface PlannedProps {
  order: Schemas["OrderOut"];
  plan: Schemas["PlanView"];
  overrides: Schemas["OverridesOut"];
  care: Schemas["OrderPlanOut"]["care"];
  choose: Choose;
  onDecide: () => void;
  onRoom: () => void;
}

export function Planned({ order, plan, overrides, care, choose, onDecide, onRoom }: PlannedProps) {
  const { sees_costs } = useSession();
  const { way, shown, setShown, parcel, number, at, setLayer, setParcel, forward, backward } =
    usePosition(plan);
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
      {care ? (
        <Suspense>
          <Care orderId={order.id} editable={editable} decided={overrides} />
        </Suspense>
      ) : null}
      {sees_costs ? (
        <Advice order={order} plan={plan} decided={overrides} editable={editable} />
      ) : null}
      {plan.warnings.map((warning) => (
        <Notice key={warning} kind="mind">
          {way.chosen ? null : <b>For the chosen way: </b>}
          {warning}
        </Notice>
      ))}
      <OverriddenNotice order={order} overrides={overrides} onChange={editable ? onDecide : null} />
      <div className="grid grid-cols-[284px_minmax(0,1fr)_330px] border-t border-line bg-sheet max-lg:grid-cols-[220px_minmax(0,1fr)]">
        {way.parcels.length > 1 ? (
          <ParcelTabs parcels={way.parcels} at={number} onPick={setParcel} />
        ) : null}
        <Layers parcel={parcel} at={at} onAt={setLayer} />
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
      <Why words={plan.why} orderId={order.id} onRoom={onRoom} />
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

const firstUnits = (layers: readonly { kind: string }[]) =>
  Math.max(
    0,
    layers.findIndex((one) => one.kind === "units"),
  );

/** Which way, parcel and layer is looked at. Another way or parcel begins at its own first layer of goods. */
function usePosition(plan: Schemas["PlanView"]) {
  const [shown, setShown] = useState(0);
  const [picked, setPicked] = useState<{ way: number; parcel: number; layer: number } | null>(null);
  const way = plan.ways[shown] ?? plan.ways[0];
  const mine = picked?.way === shown ? picked : null;
  const number = Math.min(mine?.parcel ?? 0, (way?.parcels.length ?? 1) - 1);
  const parcel = way?.parcels[number];
  const layers = parcel?.layers ?? [];
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
  return { way, shown, setShown, parcel, number, at, setLayer, setParcel, forward, backward };
}

function OverriddenNotice({
  order,
  overrides,
  onChange,
}: {
  order: Schemas["OrderOut"];
  overrides: Schemas["OverridesOut"];
  onChange: (() => void) | null;
}) {
  const { forbidden, may_lie_down: lying, shares, parcels } = overrides;
  if (forbidden.length + lying.length + shares.length === 0 && parcels === null) return null;
  return (
    <Notice
      kind="mind"
      action={
        <Button disabled={onChange === null} onClick={() => onChange?.()}>
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
  );
}

function ParcelTabs({
  parcels,
  at,
  onPick,
}: {
  parcels: readonly Schemas["ShownParcel"][];
  at: number;
  onPick: (index: number) => void;
}) {
  const format = useFormat();
  return (
    <div
      role="group"
      aria-label="Parcels of this order"
      className="col-span-full flex flex-wrap gap-x-6 border-b border-line px-5"
    >
      {parcels.map((one, index) => (
        <button
          key={index}
          type="button"
          aria-pressed={index === at}
          onClick={() => onPick(index)}
          className={`min-h-11 border-b-2 text-left ${index === at ? "border-action text-ink" : "border-transparent text-ink2 hover:text-ink"}`}
        >
          <b className="mr-2">Parcel {index + 1}</b>
          {goodsWords(one.goods.map((line) => ({ quantity: line.units, title: line.name })))}{" "}
          <span className="text-ink2">
            in {parcelName(one.candidate, format.length)},{" "}
            {format.weight(one.candidate.weight.gross_mg)}
          </span>{" "}
          {index < 9 ? <span className="keycap">{index + 1}</span> : null}
        </button>
      ))}
    </div>
  );
}

function Layers({
  parcel,
  at,
  onAt,
}: {
  parcel: Schemas["ShownParcel"];
  at: number;
  onAt: (layer: number) => void;
}) {
  const cartons = parcel.candidate.strapped?.cartons;
  return (
    <ol className="border-r border-line pt-3" aria-label="Packed in this order">
      <li className="px-5 pb-1.5 font-head text-ink2">Packed in this order</li>
      {parcel.layers.map((one, index) => (
        <li key={index}>
          {cartons && one.kind !== "strap" && one.carton !== parcel.layers[index - 1]?.carton ? (
            <p className="border-t border-line px-5 pb-1 pt-2 font-head text-small text-ink2">
              Carton {one.carton + 1}: {cartons[one.carton]?.candidate.name}
            </p>
          ) : null}
          <button
            type="button"
            aria-pressed={index === at}
            onClick={() => onAt(index)}
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
  );
}

function Why({ words, orderId, onRoom }: { words: string; orderId: number; onRoom: () => void }) {
  return (
    <div className="flex items-start gap-2 border-y border-line px-6 py-2">
      <Mark kind="ok" />
      <p className="grow">{words}</p>
      <button type="button" className="whitespace-nowrap text-action underline" onClick={onRoom}>
        How many more fit?
      </button>{" "}
      <span className="keycap">M</span>
      <a
        className="ml-3 whitespace-nowrap text-action underline"
        href={cardOf(orderId)}
        {...BESIDE}
      >
        Pack card
      </a>{" "}
      <span className="keycap">P</span>
    </div>
  );
}
