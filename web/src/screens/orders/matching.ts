/** How the columns of an unknown file are read: what a person says, put together. No React. */
import type { Schemas } from "../../api/client";

export type Matching = Schemas["MatchingIn"];
export type FieldName = Schemas["FieldOut"]["name"];
type Shown = Schemas["MatchingOut"];
type Question = Schemas["QuestionOut"];

/** Our fields, in the order a person thinks of an order in. */
export const FIELD_WORDS: Record<string, string> = {
  order: "Order number",
  placed_on: "Day it was placed",
  buyer: "Buyer",
  first_name: "First name",
  last_name: "Last name",
  company: "Company",
  address: "Street",
  address2: "Second line",
  town: "Town",
  region: "Region",
  postcode: "Postcode",
  country: "Country",
  sku: "Product code",
  title: "Product title",
  quantity: "Quantity",
  unit_price: "Price of one",
  line_total: "Price of the line",
  items: "Several products in one cell",
  goods_total: "Price of all goods",
  postage_charged: "Postage charged",
  paid: "Paid or not",
  risk: "Payment risk",
  status: "Where it stands",
  gift: "Gift or not",
  note: "Note",
  channel: "Channel",
};

/** What is read now, as it would be sent. */
export function matchingOf(shown: Shown): Matching {
  const columns: Record<string, string[]> = {};
  const constants: Record<string, string> = {};
  for (const field of shown.fields) {
    if (field.columns.length > 0) columns[field.name] = field.columns;
    if (field.constant) constants[field.name] = field.constant;
  }
  return {
    columns,
    constants,
    day_order: shown.day_order,
    decimal_mark: shown.decimal_mark,
    words: shown.words,
  };
}

/** Read a field from a column; a column is one field's only. Empty: from none. */
export function withColumn(matching: Matching, field: string, column: string): Matching {
  const columns: Record<string, string[]> = {};
  for (const [name, wanted] of Object.entries(matching.columns)) {
    const kept = wanted.filter((one) => one !== column);
    if (kept.length > 0 && name !== field) columns[name] = kept;
  }
  if (column) columns[field] = [column];
  // Days and amounts are looked at afresh: another column may be written otherwise.
  const days = field === "placed_on" ? { day_order: null } : {};
  return { ...matching, ...days, columns };
}

/** Add a column to a field that is made of several. */
export function andColumn(matching: Matching, field: string, column: string): Matching {
  const before = matching.columns[field] ?? [];
  const freed = withColumn(matching, "", column).columns;
  return { ...matching, columns: { ...freed, [field]: [...before, column] } };
}

export function withConstant(matching: Matching, field: string, text: string): Matching {
  return { ...matching, constants: { ...matching.constants, [field]: text } };
}

export function withWord(
  matching: Matching,
  field: string,
  said: string,
  meaning: string,
): Matching {
  const words = { ...matching.words, [field]: { ...matching.words?.[field], [said]: meaning } };
  return { ...matching, words };
}

/** The columns no field is read from. */
export function freeColumns(shown: Shown, matching: Matching): string[] {
  const used = new Set(Object.values(matching.columns).flat());
  return shown.columns.map((one) => one.name).filter((name) => !used.has(name));
}

/** A day of three numbers, said both ways: the person knows which is meant. */
export function dayReadings(
  sample: string,
): { value: "day_first" | "month_first"; text: string }[] {
  const parts = /(\d{1,2})[-/.](\d{1,2})[-/.](\d{2,4})/.exec(sample);
  const said = (day: string | undefined, month: string | undefined) =>
    `${Number(day)} ${MONTHS[Number(month) - 1] ?? "?"}`;
  return [
    { value: "day_first", text: parts ? said(parts[1], parts[2]) : "the day first" },
    { value: "month_first", text: parts ? said(parts[2], parts[1]) : "the month first" },
  ];
}

const MONTHS = [
  "January",
  "February",
  "March",
  "April",
  "May",
  "June",
  "July",
  "August",
  "September",
  "October",
  "November",
  "December",
];

/** What a question asks, in words. */
export function asked(question: Question): string {
  const field = (FIELD_WORDS[question.field] ?? question.field).toLowerCase();
  if (question.about === "missing")
    return question.field === "sku"
      ? "Which column says what was bought? Choose a code, a title, or a cell with several products."
      : `Which column is the ${field}?`;
  if (question.about === "day_order") return `“${question.sample}” is which day?`;
  if (question.about === "decimal_mark") return `“${question.sample}” is how much?`;
  return `What does “${question.sample}” mean for ${field}?`;
}

/** Both readings of an amount such as 1,234. */
export function amountReadings(sample: string): { value: "point" | "comma"; text: string }[] {
  const digits = sample.replace(/[^\d.,]/g, "");
  return [
    { value: "point", text: digits.replace(/,/g, "") },
    { value: "comma", text: digits.replace(/\./g, "").replace(",", ".") },
  ];
}

/** What the words of a field may mean. */
export const MEANINGS: Record<string, { value: string; text: string }[]> = {
  paid: [
    { value: "yes", text: "paid" },
    { value: "no", text: "not paid yet" },
  ],
  gift: [
    { value: "yes", text: "a gift" },
    { value: "no", text: "not a gift" },
  ],
  status: [
    { value: "open", text: "to be sent" },
    { value: "cancelled", text: "cancelled" },
    { value: "sent", text: "sent already" },
  ],
  risk: [
    { value: "low", text: "low" },
    { value: "medium", text: "medium" },
    { value: "high", text: "high" },
  ],
};
