/**
 * Numbers as people type them: a decimal point or comma, thousands when it is clear. "1,200" may be either and is
 * asked about. The one reader of every field; the server reads the same way (core/units.py). No React.
 */

export type ReadNumber =
  | { kind: "number"; value: number; text: string }
  | { kind: "ask"; question: string }
  | { kind: "none" };

const ENGLISH = /^(\d{1,3}(,\d{3})+\.\d+|\d{1,3}(,\d{3}){2,})$/;
const CONTINENTAL = /^\d{1,3}(\.\d{3})+,\d+$/;
const AMBIGUOUS = /^[1-9]\d{0,2},\d{3}$/;
const PLAIN = /^(\d+([.,]\d+)?|[.,]\d+)$/;

/** "1.5", "1,5", "1,234.5" and "1.234,5" are numbers; ``text`` is how the server writes the same one. */
export function readNumber(typed: string): ReadNumber {
  const given = typed.trim();
  if (AMBIGUOUS.test(given)) {
    const one = given.replace(",", ".").replace(/0+$/, "");
    return {
      kind: "ask",
      question: `${given} may be ${one} or ${given.replace(",", "")}. Write which.`,
    };
  }
  const plain = ENGLISH.test(given)
    ? given.replaceAll(",", "")
    : CONTINENTAL.test(given)
      ? given.replaceAll(".", "").replace(",", ".")
      : PLAIN.test(given)
        ? given.replace(",", ".")
        : null;
  if (plain === null) return { kind: "none" };
  return {
    kind: "number",
    value: Number(plain),
    text: plain.startsWith(".") ? `0${plain}` : plain,
  };
}

/** As ``readNumber``; a temperature may be below nought. */
export function readSigned(typed: string): ReadNumber {
  const given = typed.trim();
  const below = /^[-\u2212]\s*/.exec(given);
  const read = readNumber(below ? given.slice(below[0].length) : given);
  if (!below || read.kind !== "number") return read;
  return { kind: "number", value: -read.value, text: read.value === 0 ? "0" : `-${read.text}` };
}

/** The number in a text, null when there is none or it could be two. */
export function numberIn(typed: string): number | null {
  const read = readNumber(typed);
  return read.kind === "number" ? read.value : null;
}

/** The number in a text as the server writes it, null when there is none or it could be two. */
export function numberTextIn(typed: string): string | null {
  const read = readNumber(typed);
  return read.kind === "number" ? read.text : null;
}

/** As the server wants it; what is no number goes as it was typed, and the server says so at its field. */
export function numberText(typed: string): string {
  return numberTextIn(typed) ?? typed.trim();
}

/** What to say of a number that is not clear, "" when there is nothing to say. */
export function askAbout(typed: string): string {
  const read = readNumber(typed);
  if (read.kind === "ask") return read.question;
  return read.kind === "none" && typed.trim()
    ? `${typed.trim()} is not a number. Write 2, 1.5 or 1,5.`
    : "";
}
