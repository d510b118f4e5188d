/** Receiving an order: all of it, in part, more than was ordered, at another price. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { receivePurchase } from "../../api/buying";
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import type { StockUnit } from "../../domain/units";
import { useRequestKey } from "../../ui/useRequestKey";
import { Field } from "../../ui/parts";
import { Sheet } from "../../ui/Sheet";
import { SheetFoot } from "../../ui/SheetFoot";
import { useToast } from "../../ui/useToast";
import { eachCost, measured } from "./shown";

export function ReceiveSheet({
  purchase,
  onClose,
}: {
  purchase: Schemas["PurchaseOut"];
  onClose: () => void;
}) {
  const say = useToast();
  const format = useFormat();
  const lines = purchase.lines.filter((line) => !line.closed);
  const [typed, setTyped] = useState(
    lines.map((line) => ({
      came: amountIn(line, format).shown,
      price: priceIn(line, format).shown,
      until: "",
      last: false,
    })),
  );
  const [key] = useRequestKey();
  const receive = useMutation({
    ...receivePurchase(),
    onSuccess: (now) => {
      say(
        now.state === "received"
          ? `P-${now.number} is received in full.`
          : `P-${now.number}: received; the rest is still to come.`,
      );
      onClose();
    },
  });
  const set = (at: number, change: Partial<(typeof typed)[number]>) =>
    setTyped(typed.map((one, n) => (n === at ? { ...one, ...change } : one)));
  return (
    <Sheet
      open
      onOpenChange={(now) => !now && onClose()}
      title={`Receive P-${purchase.number} from ${purchase.supplier}`}
      description="Count it. What is missing stays on order, unless you tick that it will not come."
      wide
    >
      <form
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          receive.mutate({
            id: purchase.id,
            body: {
              lines: lines.map((line, at) => ({
                line_id: line.id,
                quantity: amountIn(line, format).kept(typed[at]?.came ?? ""),
                // Left out: at what it was ordered for.
                price: typed[at]?.price.trim() ? priceIn(line, format).kept(typed[at].price) : null,
                last: typed[at]?.last ?? false,
                good_until: typed[at]?.until || null,
              })),
              request_key: key,
            },
          });
        }}
      >
        {lines.map((line, at) => (
          <Came
            key={line.id}
            line={line}
            typed={typed[at] ?? { came: "", price: "", until: "", last: false }}
            first={at === 0}
            onChange={(change) => set(at, change)}
          />
        ))}
        <SheetFoot
          error={receive.error}
          action="Receive it"
          off={receive.isPending}
          onCancel={onClose}
        />
      </form>
    </Sheet>
  );
}

/** Costs may be kept from packers: then the price stays as ordered. */
const shows = (line: Schemas["PurchaseLineOut"]) => Number.isFinite(Number(line.price));

type Line = Schemas["PurchaseLineOut"];
type Format = ReturnType<typeof useFormat>;

const unitOf = (line: Line) => line.unit as StockUnit;
const amountIn = (line: Line, format: Format) => format.editedAmount(line.open, unitOf(line));
const priceIn = (line: Line, format: Format) =>
  format.editedPrice(shows(line) ? line.price : null, unitOf(line));

interface Typed {
  came: string;
  price: string;
  until: string;
  last: boolean;
}

function Came({
  line,
  typed,
  first,
  onChange,
}: {
  line: Schemas["PurchaseLineOut"];
  typed: Typed;
  first: boolean;
  onChange: (change: Partial<Typed>) => void;
}) {
  const format = useFormat();
  const unit = unitOf(line);
  const amountOf = measured(format, unit);
  const came = Number(amountIn(line, format).kept(typed.came)) || 0;
  const price = Number(priceIn(line, format).kept(typed.price)) || 0;
  return (
    <fieldset className="border-t border-line pt-2">
      <legend className="sr-only">{line.name}</legend>
      <div className="flex flex-wrap items-end gap-3">
        <p className="min-w-40 grow pb-2">
          <b>{line.code}</b> {line.name}, place {line.place}
          <span className="block text-small text-ink2">
            {format.quantity(line.open, unit)} to come
          </span>
        </p>
        <Field
          label="Came"
          unit={unit === "pieces" ? undefined : format.stockUnit(unit)}
          className="w-28"
          inputMode="decimal"
          autoFocus={first}
          value={typed.came}
          onChange={(event) => onChange({ came: event.target.value })}
        />
        {shows(line) ? (
          <Field
            label={unit === "pieces" ? "Each" : `One ${format.stockUnit(unit)}`}
            className="w-28"
            inputMode="decimal"
            value={typed.price}
            onChange={(event) => onChange({ price: event.target.value })}
          />
        ) : null}
      </div>
      <label className="mt-1 inline-flex min-h-9 items-center gap-2 text-small text-ink2">
        good until, if it expires
        <input
          type="date"
          className="min-h-9 rounded-part border border-line2 bg-sheet px-2"
          value={typed.until}
          onChange={(event) => onChange({ until: event.target.value })}
        />
      </label>
      <p className="mt-1 flex flex-wrap gap-x-5 text-small">
        {shows(line) && Math.abs(price - Number(line.price)) > 1e-9 ? (
          <span className="text-mind">
            ordered at {eachCost(format, unit)(line.price)}: the average cost follows what you paid
          </span>
        ) : null}
        {came > Number(line.open) ? (
          <span>{amountOf(came - Number(line.open))} more than ordered</span>
        ) : null}
        {came < Number(line.open) ? (
          <label className="inline-flex min-h-9 items-center gap-2">
            <input
              type="checkbox"
              className="size-5 accent-action"
              checked={typed.last}
              onChange={(event) => onChange({ last: event.target.checked })}
            />
            the other {amountOf(Number(line.open) - came)} will not come
          </label>
        ) : null}
      </p>
    </fieldset>
  );
}
