/** The grid of a recipe: which rows it has, what a cell shows, and what a typed text does to the band. No DOM. */
import type { Schemas } from "../../api/client";
import { formatLength, readLength, type UnitSystem } from "../../domain/units";
import { PATTERN_WORDS, PER_WORDS, SCHOOL_WORDS } from "../../domain/words";

export type RecipeDoc = Schemas["RecipeFile"];
export type Band = Schemas["BandDoc"];
export type Supply = Schemas["SupplyOut"];

export interface Cell { text: string; raw: string }
export interface Option { value: string; text: string }
export interface Row {
  key: string;
  group: string;
  place: string;
  label: string;
  cell: (band: Band) => Cell;
  /** Return the changed band, or in words what is allowed. */
  set: (band: Band, text: string) => Band | string;
  options?: Option[];
}

const NONE = "none";
const whole = (text: string, least: number, most: number): number | null => (/^\d{1,4}$/.test(text.trim()) && Number(text) >= least && Number(text) <= most ? Number(text) : null);
const decimal = (text: string, most: number): string | null => {
  const plain = text.trim().replace(",", ".");
  return /^\d{1,3}(\.\d{1,2})?$/.test(plain) && Number(plain) <= most ? plain : null;
};

export const bandName = (band: { first: number; last: number }): string => (band.first === band.last ? String(band.first) : `${band.first} to ${band.last}`);

export function rowsOf(doc: RecipeDoc, supplies: Supply[], system: UnitSystem): Row[] {
  const of = (code: string) => supplies.find((one) => one.code === code);
  const place = (code: string | null | undefined) => { const found = code ? of(code) : undefined; return found ? `${found.shelf}${found.slot}` : ""; };
  const named = (code: string | null | undefined) => (code ? (of(code)?.name ?? code) : NONE);
  const choices = (kinds: string[]): Option[] => supplies.filter((one) => kinds.includes(one.kind)).map((one) => ({ value: one.code, text: `${one.code}  ${one.name}` }));
  const first = doc.bands[0];
  const rows: Row[] = [];

  const length = (key: string, group: string, label: string, place: string, get: (band: Band) => number, put: (band: Band, um: number) => Band) =>
    rows.push({
      key, group, label, place,
      cell: (band) => ({ text: formatLength(get(band), system), raw: formatLength(get(band), system) }),
      set: (band, text) => { const um = readLength(text, system); return um === null || um > 200_000 ? `a length from 0 to ${formatLength(200_000, system)}` : put(band, um); },
    });

  const layers = Math.max(...doc.bands.map((band) => band.layers.length), 0);
  for (let i = 0; i < layers; i += 1) {
    const wrap = doc.bands.find((band) => band.layers[i])?.layers[i]?.wrap;
    rows.push({
      key: `layer-${i}`, group: "Each unit", place: place(wrap), label: `${named(wrap).split(",")[0]}, turns`,
      cell: (band) => { const layer = band.layers[i]; return { text: layer ? String(Number(layer.turns)) : NONE, raw: layer ? String(Number(layer.turns)) : "" }; },
      set: (band, text) => {
        const turns = decimal(text, 20);
        if (turns === null || Number(turns) === 0 || !band.layers[i]) return "turns above 0, at most 20";
        return { ...band, layers: band.layers.map((layer, at) => (at === i ? { ...layer, turns } : layer)) };
      },
    });
  }
  if (doc.bands.some((band) => band.unit_box)) {
    const options = [...choices(["unit_box"]), { value: NONE, text: NONE }];
    rows.push({ key: "unit-box", group: "Each unit", place: place(first?.unit_box), label: "Into a box of its own", options, cell: (band) => ({ text: named(band.unit_box), raw: band.unit_box ?? NONE }), set: (band, text) => ({ ...band, unit_box: text === NONE ? null : text }) });
  }
  length("gap", "Each unit", "Gap to the next", "", (band) => band.gap_um, (band, um) => ({ ...band, gap_um: um }));

  const dividers = [...choices(["insert"]), { value: NONE, text: NONE }];
  if (doc.bands.some((band) => band.divider)) {
    rows.push({ key: "divider", group: "Each unit", place: place(doc.bands.find((band) => band.divider)?.divider), label: "Sheet between layers", options: dividers, cell: (band) => ({ text: named(band.divider), raw: band.divider ?? NONE }), set: (band, text) => ({ ...band, divider: text === NONE ? null : text }) });
  }

  if (doc.bands.some((band) => band.inner)) {
    const options = [...choices(["carton"]), { value: NONE, text: NONE }];
    rows.push({ key: "inner", group: "In the container", place: "A", label: "Inner carton, floating", options, cell: (band) => ({ text: band.inner?.container ?? NONE, raw: band.inner?.container ?? NONE }), set: (band, text) => ({ ...band, inner: text === NONE ? null : { container: text, clearance_um: band.inner?.clearance_um ?? 25_000 } }) });
  }
  rows.push({
    key: "outer", group: "In the container", place: "A", label: "Container", options: choices(["carton", "mailer"]),
    cell: (band) => ({ text: band.outers.join(", ") + (band.any_outer ? ", or any" : ""), raw: band.outers[0] ?? "" }),
    set: (band, text) => ({ ...band, outers: [text, ...band.outers.filter((code, at) => at > 0 && code !== text)] }),
  });
  const fillAt = place(doc.bands.find((band) => band.fill)?.fill);
  length("bottom", "In the container", "Cushion below", fillAt, (band) => band.cushion.bottom_um, (band, um) => ({ ...band, cushion: { ...band.cushion, bottom_um: um } }));
  length("side", "In the container", "Cushion at the sides", fillAt, (band) => band.cushion.side_um, (band, um) => ({ ...band, cushion: { ...band.cushion, side_um: um } }));
  length("top", "In the container", "Cushion on top", fillAt, (band) => band.cushion.top_um, (band, um) => ({ ...band, cushion: { ...band.cushion, top_um: um } }));
  rows.push({ key: "fill", group: "In the container", place: fillAt, label: "Fill", options: [...choices(["fill"]), { value: NONE, text: NONE }], cell: (band) => ({ text: named(band.fill), raw: band.fill ?? NONE }), set: (band, text) => ({ ...band, fill: text === NONE ? null : text }) });

  rows.push({ key: "school", group: "In the container", place: "", label: "What holds it still", options: Object.entries(SCHOOL_WORDS).map(([value, text]) => ({ value, text })), cell: (band) => ({ text: SCHOOL_WORDS[band.school] ?? band.school, raw: band.school }), set: (band, text) => ({ ...band, school: text as Band["school"] }) });

  for (const code of new Set(doc.bands.flatMap((band) => band.inserts.map((insert) => insert.insert)))) {
    const sample = doc.bands.flatMap((band) => band.inserts).find((insert) => insert.insert === code);
    rows.push({
      key: `insert-${code}`, group: "On top and closing", place: place(code), label: `${named(code)}${PER_WORDS[sample?.per ?? ""] ?? ""}${sample?.samples.length ? ", or one not ordered" : ""}`,
      cell: (band) => { const found = band.inserts.find((insert) => insert.insert === code); return { text: found ? String(found.amount) : NONE, raw: found ? String(found.amount) : "0" }; },
      set: (band, text) => {
        const amount = whole(text === NONE ? "0" : text, 0, 500);
        if (amount === null || !sample) return "a whole number from 0 to 500";
        const others = band.inserts.filter((insert) => insert.insert !== code);
        const had = band.inserts.findIndex((insert) => insert.insert === code);
        const now = { ...(band.inserts[had] ?? sample), amount };
        if (amount === 0) return { ...band, inserts: others };
        return { ...band, inserts: had === -1 ? [...band.inserts, now] : band.inserts.map((insert, at) => (at === had ? now : insert)) };
      },
    });
  }
  if (doc.bands.some((band) => band.closure)) {
    rows.push({ key: "tape", group: "On top and closing", place: place(first?.closure?.tape), label: "Tape", options: choices(["tape"]), cell: (band) => ({ text: band.closure ? named(band.closure.tape) : NONE, raw: band.closure?.tape ?? "" }), set: (band, text) => (band.closure ? { ...band, closure: { ...band.closure, tape: text } } : "a band that is taped") });
    rows.push({ key: "pattern", group: "On top and closing", place: "", label: "Tape pattern", options: Object.entries(PATTERN_WORDS).map(([value, text]) => ({ value, text })), cell: (band) => ({ text: band.closure ? `${PATTERN_WORDS[band.closure.pattern]}${band.closure.both_faces ? ", both faces" : ""}` : "own seal", raw: band.closure?.pattern ?? "" }), set: (band, text) => (band.closure ? { ...band, closure: { ...band.closure, pattern: text as "h" } } : "a band that is taped") });
  }
  for (const [key, label] of [["per_unit", "Minutes for each"], ["per_parcel", "Minutes for the parcel"]] as const) {
    rows.push({ key, group: "On top and closing", place: "", label, cell: (band) => ({ text: String(Number(band.minutes[key])), raw: String(Number(band.minutes[key])) }), set: (band, text) => { const value = decimal(text, 600); return value === null ? "minutes from 0 to 600" : { ...band, minutes: { ...band.minutes, [key]: value } }; } });
  }
  return rows;
}
