/** Rows on top and closing: inserts with their rules, tape, marks, further steps, minutes. No DOM. */
import { PATTERN_WORDS, PER_WORDS } from "../../domain/words";
import { conditionText, readCondition } from "./conditions";
import {
  decimal,
  NONE,
  whole,
  YES_NO,
  yes,
  type Band,
  type Option,
  type Row,
  type RowMaker,
} from "./rows";
import { TAPE_OVERHANG_UM } from "../../domain/lists";

type Insert = Band["inserts"][number];
const GROUP = "On top and closing";
const PERS: Option[] = [
  ["unit", "each unit"],
  ["group", "each group of units"],
  ["layer", "each layer"],
  ["parcel", "the parcel"],
  ["order", "the order"],
  ["product", "each product"],
].map(([value, text]) => ({ value: value ?? "", text: text ?? "" }));
const PLACES: Option[] = [
  ["bottom", "under everything"],
  ["between", "between the goods"],
  ["top", "on top"],
  ["outside", "on the outside"],
].map(([value, text]) => ({ value: value ?? "", text: text ?? "" }));
const GRADES: Option[] = [
  ["none", "none needed"],
  ["resistant", "resists tampering"],
  ["evident", "shows tampering"],
].map(([value, text]) => ({ value: value ?? "", text: text ?? "" }));
const wordOf = (options: Option[], value: string): string =>
  options.find((one) => one.value === value)?.text ?? value;

function insertRows(make: RowMaker, code: string): Row[] {
  const sample = make.doc.bands
    .flatMap((band) => band.inserts)
    .find((insert) => insert.insert === code);
  const name = make.named(code);
  const found = (band: Band) => band.inserts.find((insert) => insert.insert === code);
  const clear = (band: Band): Band => ({
    ...band,
    inserts: band.inserts.filter((insert) => insert.insert !== code),
  });
  const put = (band: Band, change: Partial<Insert>): Band => {
    const had = found(band);
    if (had)
      return {
        ...band,
        inserts: band.inserts.map((insert) => (insert === had ? { ...insert, ...change } : insert)),
      };
    return sample ? { ...band, inserts: [...band.inserts, { ...sample, ...change }] } : band;
  };
  const show = (band: Band, text: (insert: Insert) => string) => {
    const one = found(band);
    return one ? { text: text(one), raw: text(one) } : { text: NONE, raw: "0" };
  };
  const fine = { group: GROUP, place: "", fine: true };
  const rows: Row[] = [
    {
      key: `insert-${code}`,
      group: GROUP,
      place: make.place(code),
      label: `${name}${PER_WORDS[sample?.per ?? ""] ?? ""}${sample?.samples?.length ? ", or one not ordered" : ""}`,
      clear,
      cell: (band) => show(band, (one) => String(one.amount)),
      set: (band, text) => {
        const amount = whole(text === NONE ? "0" : text, 0, 500);
        return amount === null || !sample
          ? "a whole number from 0 to 500"
          : amount === 0
            ? clear(band)
            : put(band, { amount });
      },
    },
    {
      ...fine,
      key: `insert-${code}-per`,
      label: `${name}, counted for`,
      options: PERS,
      cell: (band) => {
        const one = found(band);
        return one ? { text: wordOf(PERS, one.per), raw: one.per } : { text: NONE, raw: "" };
      },
      set: (band, text) => put(band, { per: text as Insert["per"] }),
    },
    {
      ...fine,
      key: `insert-${code}-place`,
      label: `${name}, lies`,
      options: PLACES,
      cell: (band) => {
        const one = found(band);
        return one
          ? { text: wordOf(PLACES, one.place ?? "top"), raw: one.place ?? "top" }
          : { text: NONE, raw: "" };
      },
      set: (band, text) => put(band, { place: text as Insert["place"] }),
    },
    {
      ...fine,
      key: `insert-${code}-required`,
      label: `${name}, never omitted`,
      options: YES_NO,
      cell: (band) => (found(band) ? yes(found(band)?.required) : { text: NONE, raw: "no" }),
      set: (band, text) => put(band, { required: text === "yes" }),
    },
    {
      ...fine,
      key: `insert-${code}-when`,
      label: `${name}, goes in when`,
      fine: !sample?.when,
      cell: (band) => show(band, (one) => conditionText(one.when ?? null)),
      set: (band, text) => {
        const when = readCondition(text);
        return typeof when === "string" ? when : put(band, { when: when.value });
      },
    },
  ];
  if (sample?.per === "group")
    rows.push({
      ...fine,
      fine: false,
      key: `insert-${code}-group`,
      label: `${name}, units in a group`,
      cell: (band) => show(band, (one) => String(one.group_of)),
      set: (band, text) => {
        const many = whole(text, 1, 500);
        return many === null ? "units, 1 to 500" : put(band, { group_of: many });
      },
    });
  return rows;
}

const words = (text: string, mark: RegExp, most: number): string[] | null => {
  const parts = text
    .split(mark)
    .map((part) => part.trim())
    .filter((part) => part !== "" && part !== NONE);
  return parts.length <= most && parts.every((part) => part.length <= 160) ? parts : null;
};

export function closingRows(make: RowMaker): Row[] {
  const { doc } = make;
  const codes = [
    ...new Set(doc.bands.flatMap((band) => band.inserts.map((insert) => insert.insert))),
  ];
  const rows = codes.flatMap((code) => insertRows(make, code));
  const taped = doc.bands.find((band) => band.closure)?.closure;
  const closing = (band: Band, change: Partial<NonNullable<Band["closure"]>>): Band | string =>
    band.closure
      ? { ...band, closure: { ...band.closure, ...change } }
      : "a band that is taped; choose a tape first";
  const tapes = [{ value: NONE, text: "its own seal" }, ...make.choices(["tape"])];
  rows.push({
    key: "tape",
    group: GROUP,
    place: make.place(taped?.tape),
    label: "Tape",
    fine: false,
    options: tapes,
    cell: (band) => ({
      text: band.closure ? make.named(band.closure.tape) : "its own seal",
      raw: band.closure?.tape ?? NONE,
    }),
    set: (band, text) =>
      text === NONE
        ? { ...band, closure: null }
        : {
            ...band,
            closure: {
              pattern: "h",
              both_faces: true,
              overhang_um: TAPE_OVERHANG_UM,
              required_grade: "none",
              ...band.closure,
              tape: text,
            },
          },
  });
  rows.push({
    key: "pattern",
    group: GROUP,
    place: "",
    label: "Tape pattern",
    fine: !taped,
    options: Object.entries(PATTERN_WORDS).map(([value, text]) => ({ value, text })),
    cell: (band) => ({
      text: band.closure
        ? `${PATTERN_WORDS[band.closure.pattern]}${band.closure.both_faces ? ", both faces" : ""}`
        : "own seal",
      raw: band.closure?.pattern ?? "",
    }),
    set: (band, text) => closing(band, { pattern: text as "h" }),
  });
  rows.push({
    key: "faces",
    group: GROUP,
    place: "",
    label: "Both faces taped",
    fine: true,
    options: YES_NO,
    cell: (band) => yes(band.closure?.both_faces),
    set: (band, text) => closing(band, { both_faces: text === "yes" }),
  });
  rows.push({
    key: "grade",
    group: GROUP,
    place: "",
    label: "Closure must",
    fine: !doc.bands.some((band) => band.closure && band.closure.required_grade !== "none"),
    options: GRADES,
    cell: (band) => ({
      text: wordOf(GRADES, band.closure?.required_grade ?? "none"),
      raw: band.closure?.required_grade ?? "none",
    }),
    set: (band, text) => closing(band, { required_grade: text as "none" }),
  });
  rows.push(
    make.length(
      "overhang",
      GROUP,
      "Tape over the edge",
      "",
      (band) => band.closure?.overhang_um ?? TAPE_OVERHANG_UM,
      (band, um) =>
        band.closure ? { ...band, closure: { ...band.closure, overhang_um: um } } : band,
      true,
    ),
  );
  rows.push({
    key: "marks",
    group: GROUP,
    place: "",
    label: "Marks",
    fine: !doc.bands.some((band) => band.marks.length > 0),
    cell: (band) => ({ text: band.marks.join(", ") || NONE, raw: band.marks.join(", ") }),
    set: (band, text) => {
      const marks = words(text, /,/, 8);
      return marks ? { ...band, marks } : "at most 8 marks, commas between";
    },
    clear: (band) => ({ ...band, marks: [] }),
  });
  rows.push({
    key: "steps",
    group: GROUP,
    place: "",
    label: "Extra steps",
    fine: !doc.bands.some((band) => (band.steps ?? []).length > 0),
    cell: (band) => ({
      text: (band.steps ?? []).join("; ") || NONE,
      raw: (band.steps ?? []).join("; "),
    }),
    set: (band, text) => {
      const steps = words(text, /;/, 8);
      return steps ? { ...band, steps } : "at most 8 steps, semicolons between";
    },
    clear: (band) => ({ ...band, steps: [] }),
  });
  for (const [key, label] of [
    ["per_unit", "Minutes per unit"],
    ["per_parcel", "Minutes per parcel"],
    ["per_order", "Minutes per order"],
  ] as const) {
    rows.push({
      key,
      group: GROUP,
      place: "",
      label,
      fine:
        key === "per_order" && !doc.bands.some((band) => Number(band.minutes.per_order ?? 0) > 0),
      cell: (band) => ({
        text: String(Number(band.minutes[key] ?? 0)),
        raw: String(Number(band.minutes[key] ?? 0)),
      }),
      set: (band, text) => {
        const value = decimal(text, 600);
        return value === null
          ? "minutes from 0 to 600"
          : { ...band, minutes: { ...band.minutes, [key]: value } };
      },
    });
  }
  return rows;
}
