/** What a supplier asks for a supply: packs, least amount, price breaks. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { dropOffer, saveOffer, suppliers } from "../../api/buying";
import type { Schemas } from "../../api/client";
import { useFormat } from "../../app/session";
import { Choose } from "../../ui/Choose";
import { Button, Field } from "../../ui/parts";
import { Sheet } from "../../ui/Sheet";
import { SheetFoot } from "../../ui/SheetFoot";
import type { Supply } from "../cupboard/supply";

interface Props {
  supply: Supply;
  page: Schemas["OutlookOut"];
  /** Null: another supplier's. */
  supplierId: number | null;
  onClose: () => void;
}

export function OfferSheet({ supply, page, supplierId, onClose }: Props) {
  const format = useFormat();
  const known = useQuery(suppliers());
  const now = page.offers.find((one) => one.supplier_id === supplierId);
  const amount = (kept?: string | number | null) => format.editedAmount(kept ?? null, supply.unit);
  const price = (kept?: string | number | null) => format.editedPrice(kept ?? null, supply.unit);
  const [supplier, setSupplier] = useState(supplierId === null ? "" : String(supplierId));
  const [text, setText] = useState({
    their_code: now?.their_code ?? "",
    pack: amount(now?.pack).shown || "1",
    pack_name: now?.pack_name ?? "",
    least: amount(now?.least).shown || "0",
  });
  const [prices, setPrices] = useState<Price[]>(
    now?.prices.map((one) => ({
      kept: one,
      quantity: amount(one.quantity).shown,
      price: price(one.price).shown,
    })) ?? [{ quantity: "0", price: "" }],
  );
  const save = useMutation({ ...saveOffer(), onSuccess: onClose });
  const drop = useMutation({ ...dropOffer(), onSuccess: onClose });
  const field = (name: keyof typeof text) => ({
    value: text[name],
    onChange: (event: { target: { value: string } }) =>
      setText({ ...text, [name]: event.target.value }),
  });
  const unit = format.stockUnit(supply.unit);
  return (
    <Sheet
      open
      onOpenChange={(open) => !open && onClose()}
      title={now ? `${supply.name} from ${now.supplier}` : `Who sells ${supply.name}?`}
      wide
    >
      <form
        className="flex flex-col gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate({
            supplier: Number(supplier),
            supply: supply.id,
            body: {
              their_code: text.their_code,
              pack: amount(now?.pack).kept(text.pack),
              pack_name: text.pack_name,
              least: amount(now?.least).kept(text.least),
              prices: prices
                .filter((one) => one.price.trim() !== "")
                .map((one) => ({
                  quantity: amount(one.kept?.quantity).kept(one.quantity),
                  price: price(one.kept?.price).kept(one.price),
                })),
            },
          });
        }}
      >
        {now ? null : (
          <Choose
            label="Supplier"
            value={supplier}
            options={(known.data?.results ?? [])
              .filter((one) => !page.offers.some((offer) => offer.supplier_id === one.id))
              .map((one) => ({ value: String(one.id), text: one.name }))}
            onPick={setSupplier}
          />
        )}
        <div className="grid grid-cols-2 gap-4 max-lg:grid-cols-1">
          <Field
            label="One pack holds"
            unit={unit}
            inputMode="decimal"
            required
            {...field("pack")}
          />
          <Field
            label="What a pack is called"
            hint="roll 50 m, pack of 25"
            {...field("pack_name")}
          />
          <Field label="At least" unit={unit} inputMode="decimal" {...field("least")} />
          <Field label="Their code" {...field("their_code")} />
        </div>
        <Prices unit={unit} prices={prices} onChange={setPrices} />
        <SheetFoot
          error={save.error ?? drop.error}
          action="Save"
          off={save.isPending || supplier === ""}
          onCancel={onClose}
        >
          {now ? (
            <Button
              kind="stop"
              disabled={drop.isPending}
              onClick={() => drop.mutate({ supplier: now.supplier_id, supply: supply.id })}
            >
              They no longer sell it
            </Button>
          ) : null}
        </SheetFoot>
      </form>
    </Sheet>
  );
}

interface Price {
  /** As it was before it was edited. */
  kept?: { quantity?: string | number; price?: string | number };
  quantity: string;
  price: string;
}

function Prices({
  unit,
  prices,
  onChange,
}: {
  unit: string;
  prices: readonly Price[];
  onChange: (prices: Price[]) => void;
}) {
  const set = (at: number, change: Partial<Price>) =>
    onChange(prices.map((one, n) => (n === at ? { ...one, ...change } : one)));
  return (
    <fieldset className="flex flex-col gap-2">
      <legend className="text-small text-ink2">
        Price of one {unit || "piece"}, from so many on
      </legend>
      {prices.map((one, at) => (
        <div key={at} className="flex items-end gap-3">
          <Field
            label="From"
            inputMode="decimal"
            value={one.quantity}
            onChange={(event) => set(at, { quantity: event.target.value })}
          />
          <Field
            label="Each"
            inputMode="decimal"
            value={one.price}
            onChange={(event) => set(at, { price: event.target.value })}
          />
        </div>
      ))}
      <div>
        <Button onClick={() => onChange([...prices, { quantity: "", price: "" }])}>
          Another price break
        </Button>
      </div>
    </fieldset>
  );
}
