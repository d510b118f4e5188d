/** The rules services are chosen by, as they are typed and as the server takes them. No DOM. */
import { z } from "zod";
import type { Schemas } from "../../api/client";
import { askAbout, numberText } from "../../domain/numbers";
import { many } from "../../domain/words";

export type Rules = Schemas["Rules"];

/** Everything as it is typed; a rule that is off keeps what stands in its field. */
export interface TypedRules {
  services: string[];
  trusted_carrier: string;
  trusted_unless_saves: string;
  promised: boolean;
  arrive_within_days: string;
  ship_days: string[];
  to_homes: boolean;
  delivers_to: ("door" | "locker" | "shop")[];
  signed: boolean;
  signature_above: string;
  cover_goods: boolean;
  advice_threshold: string;
  little_more: string;
}

/** An amount as the server reads it: "1,5" is 1.5; what may be two numbers is asked about. */
const amount = () =>
  z.string().transform((typed, context) => {
    const asked = askAbout(typed);
    if (asked || typed.trim() === "")
      context.addIssue({ code: "custom", message: asked || "An amount, such as 1.50" });
    return numberText(typed);
  });

/** No service named means all of them, those of lists still to come as well. */
export function typedRules(rules: Rules, all: readonly string[]): TypedRules {
  return {
    services: rules.services.length === 0 ? [...all] : [...rules.services],
    trusted_carrier: rules.trusted_carrier,
    trusted_unless_saves: String(rules.trusted_unless_saves),
    promised: rules.arrive_within_days !== null,
    arrive_within_days: String(rules.arrive_within_days ?? 5),
    ship_days: rules.ship_days.map(String),
    to_homes: rules.to_homes,
    delivers_to: [...rules.delivers_to],
    signed: rules.signature_above !== null,
    signature_above: String(rules.signature_above ?? "100.00"),
    cover_goods: rules.cover_goods,
    advice_threshold: String(rules.advice_threshold),
    little_more: String(rules.little_more),
  };
}

export const rulesSchema = (all: readonly string[]): z.ZodType<Rules, TypedRules> =>
  z
    .object({
      services: z.array(z.string()).min(1, "At least one service."),
      trusted_carrier: z.string(),
      trusted_unless_saves: amount(),
      promised: z.boolean(),
      arrive_within_days: z
        .string()
        .regex(/^([1-9]|[1-5]\d|60)$/, "A whole number of days, 1 to 60."),
      ship_days: z.array(z.string()).min(1, "At least one day."),
      to_homes: z.boolean(),
      delivers_to: z.array(z.enum(["door", "locker", "shop"])).min(1, "At least one place."),
      signed: z.boolean(),
      signature_above: amount(),
      cover_goods: z.boolean(),
      advice_threshold: amount(),
      little_more: amount(),
    })
    .transform(({ promised, signed, ...typed }): Rules => ({
      ...typed,
      services: typed.services.length === all.length ? [] : typed.services,
      arrive_within_days: promised ? Number(typed.arrive_within_days) : null,
      ship_days: typed.ship_days.map(Number).sort((a, b) => a - b),
      signature_above: signed ? typed.signature_above : null,
    }));

/** The rules in one sentence. */
export function rulesWords(rules: Rules, carriers: ReadonlyMap<string, string>): string {
  if (rules.trusted_carrier)
    return `${carriers.get(rules.trusted_carrier) ?? rules.trusted_carrier}, unless another saves more than ${rules.trusted_unless_saves}`;
  return rules.arrive_within_days
    ? `The cheapest that arrives within ${many(rules.arrive_within_days, "day")}`
    : "The cheapest service that takes the parcel";
}
