/** The words of a recipe as lines of text, and back. No DOM. */
import type { RecipeDoc } from "./rows";

export interface WordFields {
  name: string;
  goods_checks: string;
  wrap_note: string;
  proving_checks: string;
  closed_checks: string;
  mailer_checks: string;
  cautions: string;
  ahead: string;
  buyer_note: string;
  mix: string;
}

export function wordsOf(doc: RecipeDoc): WordFields {
  return {
    name: doc.name,
    wrap_note: doc.wrap_note,
    buyer_note: doc.buyer_note,
    goods_checks: doc.goods_checks.join("\n"),
    proving_checks: doc.proving_checks.join("\n"),
    closed_checks: (doc.closed_checks ?? []).join("\n"),
    mailer_checks: (doc.mailer_checks ?? []).join("\n"),
    cautions: doc.cautions.join("\n"),
    ahead: doc.ahead
      .map((one) => `${Number(one.hours_before)} | ${Number(one.minutes)} | ${one.what}`)
      .join("\n"),
    mix: doc.mix.map((one) => `${one.quantity} ${one.sku}`).join("\n"),
  };
}

const lines = (text: string): string[] =>
  text
    .split("\n")
    .map((line) => line.trim())
    .filter(Boolean);

/** The recipe with these words, or what is wrong with them. */
export function readWords(doc: RecipeDoc, fields: WordFields): RecipeDoc | string {
  const ahead = [];
  for (const line of lines(fields.ahead)) {
    const match = /^(\d{1,4}(?:\.\d{1,2})?)\s*\|\s*(\d{1,3}(?:\.\d{1,2})?)\s*\|\s*(.{1,160})$/.exec(
      line,
    );
    if (!match || Number(match[1]) === 0)
      return `Before packing: “${line}” is not hours | minutes | what, such as 12 | 2 | Freeze the gel packs.`;
    ahead.push({ hours_before: match[1] ?? "", minutes: match[2] ?? "0", what: match[3] ?? "" });
  }
  const mix = [];
  for (const line of lines(fields.mix)) {
    const match = /^(\d{1,3})\s+([A-Za-z0-9][A-Za-z0-9._-]{0,29})$/.exec(line);
    if (!match || Number(match[1]) === 0)
      return `For the mix: “${line}” is not a number and a sku, such as 2 PRE-BLK.`;
    mix.push({ quantity: Number(match[1]), sku: match[2] ?? "" });
  }
  for (const [name, text, most] of [
    ["Check the goods", fields.goods_checks, 12],
    ["Test before closing", fields.proving_checks, 12],
    ["Test after closing", fields.closed_checks, 12],
    ["Test of a mailer", fields.mailer_checks, 12],
    ["Cautions", fields.cautions, 12],
  ] as const) {
    if (lines(text).length > most) return `${name}: at most ${most} lines.`;
    const long = lines(text).find((line) => line.length > 160);
    if (long)
      return `${name}: “${long.slice(0, 40)}…” has ${long.length} letters; a line takes 160.`;
  }
  if (fields.name.trim() === "") return "The recipe needs a name.";
  return {
    ...doc,
    name: fields.name.trim(),
    wrap_note: lines(fields.wrap_note).join(" "),
    buyer_note: lines(fields.buyer_note).join(" "),
    goods_checks: lines(fields.goods_checks),
    proving_checks: lines(fields.proving_checks),
    closed_checks: lines(fields.closed_checks),
    mailer_checks: lines(fields.mailer_checks),
    cautions: lines(fields.cautions),
    ahead,
    mix,
  };
}
