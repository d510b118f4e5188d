/** The buyer: who ordered before is found by part of the name, and brings the address along. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useWatch } from "react-hook-form";
import type { Schemas } from "../../api/client";
import { buyers } from "../../api/orders";
import { many } from "../../domain/words";
import { FormField, type FormOf } from "../../ui/FormField";
import { useRested } from "../../ui/useRested";
import type { Typed } from "./typed";

export function BuyerField({ form, focus }: { form: FormOf<Typed>; focus: boolean }) {
  const [taken, setTaken] = useState("");
  const typed = useWatch({ control: form.control, name: "buyer" });
  const found = useQuery(buyers(useRested(typed, 250)));
  const shown =
    form.formState.dirtyFields.buyer && typed !== taken && typed.trim().length > 1
      ? (found.data?.buyers ?? [])
      : [];
  const take = (one: Schemas["BuyerOut"]) => {
    const [street = "", ...rest] = one.address;
    const values: Partial<Typed> = {
      buyer: one.buyer,
      street: rest.length === 0 ? "" : street,
      more: rest.slice(0, -1).join(", "),
      town: rest.at(-1) ?? street,
      postcode: one.postcode,
      country: one.country,
    };
    for (const [name, value] of Object.entries(values))
      form.setValue(name as keyof Typed, value, { shouldDirty: true, shouldValidate: true });
    setTaken(one.buyer);
  };
  return (
    <div>
      <FormField
        form={form}
        name="buyer"
        label="Buyer"
        autoFocus={focus}
        maxLength={80}
        autoComplete="off"
      />
      {shown.length > 0 ? (
        <ul aria-label="Ordered before" className="border border-t-0 border-line2">
          {shown.map((one) => (
            <li key={`${one.buyer}-${one.postcode}`}>
              <button
                type="button"
                className="flex min-h-10 w-full justify-between gap-3 px-3 text-left hover:bg-soft focus:bg-soft"
                onClick={() => take(one)}
              >
                <span>
                  {one.buyer}, {one.address.at(-1)} {one.postcode}
                </span>
                <span className="text-small text-ink2">{many(one.orders, "order")}</span>
              </button>
            </li>
          ))}
        </ul>
      ) : null}
    </div>
  );
}
