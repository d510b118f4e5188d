/** The form of a new workshop: what is typed in, what the server takes out. No React. */
import { z } from "zod";
import type { Schemas } from "../../api/client";
import { numberText } from "../../domain/numbers";
import { required, typedNumber } from "../../ui/form";

export type SetUp = Schemas["SetUpIn"];

export const SET_UP = z
  .object({
    workshop: required("The name of your workshop.").max(80),
    street: required("Street and number.").max(80),
    town: required("Town.").max(80),
    postcode: required("Postcode.").max(12),
    country: z
      .string()
      .trim()
      .toUpperCase()
      .regex(/^[A-Z]{2,3}$/, "Two or three letters, as your price lists name it."),
    currency: required("What stands before amounts, such as EUR.").max(8),
    money_digits: z.enum(["0", "2", "3"]),
    unit_system: z.enum(["metric", "imperial"]),
    time_zone: z.string().min(1),
    ship_days: z.array(z.string()).min(1, "At least one day."),
    wage: typedNumber(),
    name: required("Your name, as it stands on what you do.").max(80),
    username: z
      .string()
      .trim()
      .regex(/^[A-Za-z0-9][A-Za-z0-9._-]{1,39}$/, "At least 2 letters or digits, no spaces."),
    password: z.string().min(10, "At least 10 letters, digits or signs."),
  })
  .transform(({ street, town, wage, money_digits, ship_days, ...rest }): SetUp => ({
    ...rest,
    address: [street.trim(), town.trim()],
    money_digits: Number(money_digits),
    ship_days: ship_days.map(Number),
    wage_per_hour: numberText(wage) || "0",
  }));
export type Typed = z.input<typeof SET_UP>;

/** What the browser knows of where it is; the rest is empty. */
export function beginning(): Typed {
  const { timeZone, locale } = Intl.DateTimeFormat().resolvedOptions();
  const imperial = /-(US|LR|MM)\b/.test(locale);
  return {
    workshop: "",
    street: "",
    town: "",
    postcode: "",
    country: "",
    currency: "",
    money_digits: "2",
    unit_system: imperial ? "imperial" : "metric",
    time_zone: timeZone || "UTC",
    ship_days: ["0", "1", "2", "3", "4"],
    wage: "15",
    name: "",
    username: "",
    password: "",
  };
}

/** The rules of a password, and which of them it keeps so far; the server has the last word. */
export function passwordRules(
  password: string,
  typed: { name: string; username: string },
): { text: string; kept: boolean }[] {
  const plain = password.toLowerCase();
  const own = [typed.name, typed.username].filter((one) => one.trim().length > 2);
  return [
    { text: "10 letters, digits or signs", kept: password.length >= 10 },
    { text: "not digits alone", kept: password.length > 0 && !/^\d+$/.test(password) },
    {
      text: "not your name",
      kept: password.length > 0 && !own.some((one) => plain.includes(one.trim().toLowerCase())),
    },
  ];
}

export function timeZones(): string[] {
  const known = Intl.supportedValuesOf("timeZone");
  return known.includes("UTC") ? known : ["UTC", ...known];
}
