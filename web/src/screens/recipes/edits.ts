/** What is done to a whole recipe at once: rows added and moved, blocks pasted, bands split and joined. No DOM. */
import type { Band, RecipeDoc, Row, Supply } from "./rows";
import { TAPE_OVERHANG_UM } from "../../domain/lists";

const every = (doc: RecipeDoc, change: (band: Band, at: number) => Band): RecipeDoc => ({
  ...doc,
  bands: doc.bands.map(change),
});

/** Put a supply into every band, as what it is: a layer of wrap, a fill, a tape, an insert, a box, a container. */
export function withSupply(doc: RecipeDoc, supply: Supply): RecipeDoc {
  const { code } = supply;
  switch (supply.kind) {
    case "wrap":
      return every(doc, (band) => {
        const alone = band.layers.filter((layer) => layer.per_units === 1);
        return {
          ...band,
          layers: [
            ...alone,
            {
              wrap: code,
              turns: "1",
              ends_top: 1,
              ends_bottom: 1,
              compression: "0.9",
              overlap_um: 50_000,
              per_units: 1,
            },
            ...band.layers.filter((layer) => layer.per_units > 1),
          ],
        };
      });
    case "fill":
      return every(doc, (band) => ({ ...band, fill: code }));
    case "tape":
      return every(doc, (band) => ({
        ...band,
        closure: {
          pattern: "h",
          both_faces: true,
          overhang_um: TAPE_OVERHANG_UM,
          required_grade: "none",
          ...band.closure,
          tape: code,
        },
      }));
    case "unit_box":
      return every(doc, (band) => ({ ...band, unit_box: code }));
    case "insert":
      return every(doc, (band) =>
        band.inserts.some((one) => one.insert === code)
          ? band
          : {
              ...band,
              inserts: [
                ...band.inserts,
                {
                  insert: code,
                  amount: 1,
                  per: "parcel",
                  place: "top",
                  required: false,
                  group_of: 1,
                  when: null,
                  samples: [],
                },
              ],
            },
      );
    default:
      return every(doc, (band) =>
        band.outers.includes(code) ? band : { ...band, outers: [...band.outers, code] },
      );
  }
}

/** Move a layer of wrap in every band that has it and its neighbour. */
export function withLayerMoved(doc: RecipeDoc, layer: number, to: number): RecipeDoc {
  return every(doc, (band) => {
    if (layer === to || !band.layers[layer] || !band.layers[to]) return band;
    const layers = [...band.layers];
    const [one] = layers.splice(layer, 1);
    if (one) layers.splice(to, 0, one);
    return { ...band, layers };
  });
}

/** The cell of one band in every band after it; a band that cannot take it stays. */
export function copiedAcross(doc: RecipeDoc, row: Row, from: number): RecipeDoc {
  const band = doc.bands[from];
  if (!band) return doc;
  const { raw } = row.cell(band);
  return every(doc, (one, at) => {
    if (at <= from) return one;
    const next = row.set(one, raw);
    return typeof next === "string" ? one : next;
  });
}

/** A block of a spreadsheet from a cell on: down the rows, across the bands. Faults name cell and what is allowed. */
export function pasted(
  doc: RecipeDoc,
  rows: Row[],
  at: { row: number; column: number },
  text: string,
): { doc: RecipeDoc; changed: number; faults: string[] } {
  const lines = text
    .replace(/\r/g, "")
    .replace(/\n+$/, "")
    .split("\n")
    .map((line) => line.split("\t"));
  let bands = [...doc.bands];
  let changed = 0;
  const faults: string[] = [];
  lines.forEach((cells, down) => {
    const row = rows[at.row + down];
    cells.forEach((cell, across) => {
      const column = at.column + across;
      const band = bands[column];
      const wanted = cell.trim();
      if (!row || !band || wanted === "") {
        if (wanted !== "") faults.push(`${wanted} lies outside the grid`);
        return;
      }
      const option = row.options?.find(
        (one) =>
          one.value === wanted || one.text === wanted || one.text.split("  ").includes(wanted),
      );
      if (row.options && !option) {
        faults.push(`${row.label}: ${wanted} is none of its choices`);
        return;
      }
      const next = row.set(band, option ? option.value : wanted);
      if (typeof next === "string") {
        faults.push(`${row.label}: ${wanted}; allowed: ${next}`);
        return;
      }
      if (JSON.stringify(next) !== JSON.stringify(band)) {
        changed += 1;
        bands = bands.map((one, n) => (n === column ? next : one));
      }
    });
  });
  return { doc: changed > 0 ? { ...doc, bands } : doc, changed, faults };
}

/** A band ends at another size; the one after it follows. In words when that cannot be. */
export function withLast(doc: RecipeDoc, at: number, last: number): RecipeDoc | string {
  const band = doc.bands[at];
  const next = doc.bands[at + 1];
  if (!band) return "There is no such band.";
  if (!Number.isInteger(last) || last < band.first || last > 10_000)
    return `It starts at ${band.first}; it can end from ${band.first} to 10000.`;
  if (next && last >= next.last)
    return `The next band ends at ${next.last}; end before it, or join the two.`;
  return every(doc, (one, n) =>
    n === at ? { ...one, last } : n === at + 1 ? { ...one, first: last + 1 } : one,
  );
}

/** Cut a band in two after a size; both are packed as it was. */
export function split(doc: RecipeDoc, at: number, after: number): RecipeDoc | string {
  const band = doc.bands[at];
  if (!band) return "There is no such band.";
  if (band.first === band.last) return "A band of one size cannot be split.";
  if (after < band.first || after >= band.last)
    return `Split it after a size from ${band.first} to ${band.last - 1}.`;
  return {
    ...doc,
    bands: [
      ...doc.bands.slice(0, at),
      { ...band, last: after },
      { ...band, first: after + 1 },
      ...doc.bands.slice(at + 1),
    ],
  };
}

/** Join a band with the one after it; packed as the first. */
export function joined(doc: RecipeDoc, at: number): RecipeDoc | string {
  const [band, next] = [doc.bands[at], doc.bands[at + 1]];
  if (!band || !next) return "There is no band after this one.";
  return {
    ...doc,
    bands: [...doc.bands.slice(0, at), { ...band, last: next.last }, ...doc.bands.slice(at + 2)],
  };
}

/** One more band after the last, packed like it. */
export function extended(doc: RecipeDoc): RecipeDoc {
  const last = doc.bands.at(-1);
  return last
    ? {
        ...doc,
        bands: [
          ...doc.bands,
          {
            ...last,
            first: last.last + 1,
            last: last.last + Math.max(1, last.last - last.first + 1),
          },
        ],
      }
    : doc;
}
