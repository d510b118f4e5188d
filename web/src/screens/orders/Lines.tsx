/** The lines of an order: products by part of their name, how many, at which price. */
import { useState } from "react";
import { useFieldArray, useWatch } from "react-hook-form";
import { useFormat } from "../../app/session";
import { numberIn } from "../../domain/numbers";
import { FormField, type FormOf } from "../../ui/FormField";
import { Button } from "../../ui/parts";
import { ProductCombo } from "./ProductCombo";
import type { Typed } from "./typed";

export function Lines({ form }: { form: FormOf<Typed> }) {
  const lines = useFieldArray({ control: form.control, name: "lines" });
  const [adding, setAdding] = useState(false);
  const wrong = form.formState.errors.lines?.message ?? form.formState.errors.lines?.root?.message;
  return (
    <fieldset>
      <legend className="text-[18px] font-semibold">Products</legend>
      <div className="mt-1 border-b border-line">
        {lines.fields.map((line, index) => (
          <div
            key={line.id}
            className="grid grid-cols-[minmax(0,1fr)_6rem_8rem_2.75rem] items-start gap-3 border-t border-line py-2"
          >
            <p className="min-w-0 pt-7">
              <b>{line.name}</b> <span className="text-ink2">{line.sku}</span>
            </p>
            <FormField
              form={form}
              name={`lines.${index}.quantity`}
              label="How many"
              inputMode="numeric"
              onFocus={(event) => event.currentTarget.select()}
              onKeyDown={(event) => {
                if (event.key !== "Enter" || event.ctrlKey || event.metaKey) return;
                event.preventDefault(); // the next product, not the whole order
                setAdding(true);
              }}
            />
            <FormField
              form={form}
              name={`lines.${index}.unit_price`}
              label="Price each"
              inputMode="decimal"
              onFocus={(event) => event.currentTarget.select()}
            />
            <button
              type="button"
              aria-label={`Take ${line.name} off the order`}
              className="mt-6 min-h-10 text-ink2 hover:text-ink"
              onClick={() => lines.remove(index)}
            >
              <span className="keycap">×</span>
            </button>
          </div>
        ))}
      </div>
      {adding ? (
        <ProductCombo
          taken={lines.fields.map((line) => line.sku)}
          onPick={(sku, name) => {
            setAdding(false);
            lines.append(
              { sku, name, quantity: "1", unit_price: "" },
              { focusName: `lines.${lines.fields.length}.quantity` },
            );
          }}
          onClose={() => setAdding(false)}
        />
      ) : (
        <Button className="mt-3" onClick={() => setAdding(true)}>
          Add a product
        </Button>
      )}
      {wrong ? <p className="mt-1 text-small text-stop">{wrong}</p> : null}
      <Sum form={form} />
    </fieldset>
  );
}

function Sum({ form }: { form: FormOf<Typed> }) {
  const format = useFormat();
  const lines = useWatch({ control: form.control, name: "lines" });
  const sum = lines.reduce(
    (total, line) => total + (numberIn(line.quantity) ?? 0) * (numberIn(line.unit_price) ?? 0),
    0,
  );
  return lines.length > 0 ? (
    <p className="mt-2 text-right text-ink2">
      Goods <b className="ml-2 text-ink">{format.money(sum)}</b>
    </p>
  ) : null;
}
