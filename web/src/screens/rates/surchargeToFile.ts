/** A typed surcharge as the open file has it. No React. */
import { numberText } from "../../domain/numbers";
import { SHORT_WEEKDAYS } from "../../domain/words";
import { surchargeRow, Shown } from "./listFromFile";
import type { Reader } from "./reader";
import { parts, type ConditionRow, type Doc, type SurchargeRow } from "./typedList";

const DAY = /\d{4}-\d{2}-\d{2}/;

export const same = (one: unknown, other: unknown): boolean =>
  JSON.stringify(one) === JSON.stringify(other);

export function surchargeDoc(row: SurchargeRow, code: string, where: string, reader: Reader): Doc {
  // What was not touched goes back as it came.
  if (row.was && same(surchargeRow(row.was, new Shown(reader.system)), row)) return row.was;
  const doc: Doc = {
    code,
    name: row.name.trim(),
    kind: row.kind,
    amount: numberText(row.amount),
  };
  for (const one of row.conditions) addCondition(doc, one, where, reader);
  if (row.kind === "per_weight" && row.each.trim()) doc.each_mg = reader.weight(row.each, where);
  if (row.kind === "percent" && row.of === "base") doc.of = "base";
  if (row.least.trim()) doc.least = numberText(row.least);
  if (row.most.trim()) doc.most = numberText(row.most);
  if (row.group.trim()) doc.group = row.group.trim();
  if (row.tax.trim()) doc.tax_percent = numberText(row.tax);
  return doc;
}

function addCondition(doc: Doc, { what, value }: ConditionRow, where: string, reader: Reader) {
  if (what === "rigid" || what === "home" || what === "signature") doc[what] = true;
  else if (what === "zones" || what === "formats" || what === "goods") doc[what] = parts(value);
  else if (what === "places") {
    const [country = "", rest = ""] = value.split(":");
    doc.country = country.trim().toUpperCase();
    if (parts(rest).length > 0) doc.prefixes = parts(rest);
  } else if (what === "season") {
    const from = new RegExp(`from ?(${DAY.source})`).exec(value)?.[1];
    const until = new RegExp(`(?:until|to) ?(${DAY.source})`).exec(value)?.[1];
    if (!from && !until)
      reader.wrong(where, `“${value}” is no season. Write from 2026-11-15 until 2026-12-31.`);
    if (from) doc.from_on = from;
    if (until) doc.until_on = until;
  } else if (what === "arrives") {
    const days = parts(value).map((word) =>
      SHORT_WEEKDAYS.findIndex((day) => word.toLowerCase().startsWith(day.toLowerCase())),
    );
    if (days.length === 0 || days.includes(-1))
      reader.wrong(where, `“${value}” are no weekdays. Write Sat, Sun.`);
    doc.arrives_on_days = days.filter((day) => day >= 0).sort((a, b) => a - b);
  } else {
    const read = reader.measure(what, value, where);
    if (read === null && !value.trim())
      reader.wrong(where, "A condition has no value. Give one, or take the condition off.");
    doc[what] = read;
  }
}
