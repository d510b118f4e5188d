/** An order as it is typed: the form's schema, and the way to what is sent. No React. */
import { z } from "zod";
import type { Schemas } from "../../api/client";
import { askAbout, numberText } from "../../domain/numbers";
import { required } from "../../ui/form";

export type TypedOrder = Schemas["TypedOrderIn"];

const amount = () =>
  z.string().transform((typed, context) => {
    const text = typed.trim() ? numberText(typed) : "0";
    const asked = askAbout(typed);
    if (asked || !/^\d{1,7}(\.\d{1,2})?$/.test(text))
      context.addIssue({ code: "custom", message: asked || "An amount, such as 6.50." });
    return text;
  });

const LINE = z.object({
  sku: z.string().min(1),
  name: z.string(),
  quantity: z
    .string()
    .trim()
    .regex(/^[1-9]\d{0,4}$/, "A whole number from 1 to 10000.")
    .transform(Number),
  unit_price: amount(),
});

export const ORDER = z
  .object({
    number: z.string().trim().max(40),
    buyer: required("Who it goes to.").max(80),
    street: required("Street and number.").max(120),
    more: z.string().trim().max(120),
    town: required("Town.").max(120),
    postcode: required("Postcode.").max(12),
    country: z
      .string()
      .trim()
      .toUpperCase()
      .regex(/^[A-Z]{2,3}$/, "Two or three letters."),
    note: z.string().trim().max(500),
    postage: amount(),
    flags: z.array(z.enum(["paid", "gift"])),
    lines: z.array(LINE).min(1, "At least one product."),
  })
  .transform(({ street, more, town, postage, flags, lines, ...rest }): TypedOrder => ({
    ...rest,
    placed_on: null,
    address: [street, more, town].filter(Boolean),
    postage_charged: postage,
    paid: flags.includes("paid"),
    gift: flags.includes("gift"),
    lines: lines.map(({ sku, quantity, unit_price }) => ({ sku, quantity, unit_price })),
  }));
export type Typed = z.input<typeof ORDER>;

/** The form of an order that is there, or of a new one. */
export function typedOf(order: Schemas["OrderOut"] | null, country: string): Typed {
  if (!order)
    return {
      number: "",
      buyer: "",
      street: "",
      more: "",
      town: "",
      postcode: "",
      country,
      note: "",
      postage: "",
      flags: ["paid"],
      lines: [],
    };
  const [street = "", ...rest] = order.address;
  return {
    number: order.number,
    buyer: order.buyer,
    street: rest.length === 0 ? "" : street,
    more: rest.slice(0, -1).join(", "),
    town: rest.at(-1) ?? street,
    postcode: order.postcode,
    country: order.country,
    note: order.note,
    postage: String(Number(order.postage_charged)),
    flags: [...(order.paid ? (["paid"] as const) : []), ...(order.gift ? (["gift"] as const) : [])],
    lines: order.lines.map((line) => ({
      sku: line.sku,
      name: line.title,
      quantity: String(line.quantity),
      unit_price: String(Number(line.unit_price)),
    })),
  };
}

/** The field an error of the server belongs to: "order.lines.0.sku" is that line's. */
export function fieldAt(path: string): keyof Typed | `lines.${number}.quantity` | null {
  const line = /lines[.[](\d+)/.exec(path);
  if (line) return `lines.${Number(line[1])}.quantity`;
  const last =
    path.split(/[.[\]]+/).find((part) => part && !/^\d+$/.test(part) && part !== "order") ?? "";
  const names: Record<string, keyof Typed> = { address: "street", postage_charged: "postage" };
  const name = names[last] ?? last;
  return name in typedOf(null, "") ? (name as keyof Typed) : null;
}
