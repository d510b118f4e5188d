/** Rows round each unit: wraps in order, the box of its own, gaps and sheets between. No DOM. */
import { decimal, NONE, whole, YES_NO, yes, type Band, type Row, type RowMaker } from "./rows";

type Layer = Band["layers"][number];
const GROUP = "Each unit";

const ends = (text: string): [number, number] | null => {
  const match = /^\s*(\d{1,2})\s*(?:\/\s*(\d{1,2}))?\s*$/.exec(text);
  if (!match) return null;
  const [top, bottom] = [Number(match[1]), Number(match[2] ?? match[1])];
  return top <= 20 && bottom <= 20 ? [top, bottom] : null;
};

function layerRows(make: RowMaker, i: number): Row[] {
  const sample = make.doc.bands.find((band) => band.layers[i])?.layers[i];
  const name = make.named(sample?.wrap).split(",")[0] ?? "";
  const nth = i === 0 ? "First" : `${i + 1}.`;
  const put = (band: Band, change: Partial<Layer>): Band => {
    const had = band.layers[i] ?? sample;
    if (!had) return band;
    const layers =
      band.layers.length > i
        ? band.layers.map((layer, at) => (at === i ? { ...layer, ...change } : layer))
        : [...band.layers, { ...had, ...change }];
    return { ...band, layers };
  };
  const show = (band: Band, text: (layer: Layer) => string) => {
    const layer = band.layers[i];
    return layer ? { text: text(layer), raw: text(layer) } : { text: NONE, raw: "" };
  };
  const clear = (band: Band): Band => ({
    ...band,
    layers: band.layers.filter((_, at) => at !== i),
  });
  const fine = { group: GROUP, place: "", fine: true, layer: i };
  return [
    {
      key: `layer-${i}`,
      group: GROUP,
      place: make.place(sample?.wrap),
      label: `${name}, turns`,
      layer: i,
      clear,
      cell: (band) => show(band, (layer) => String(Number(layer.turns))),
      set: (band, text) => {
        if (text.trim() === NONE || text.trim() === "0") return clear(band);
        const turns = decimal(text, 20);
        return turns === null || Number(turns) === 0
          ? "turns above 0, at most 20; 0 leaves it out"
          : put(band, { turns });
      },
    },
    {
      ...fine,
      key: `layer-${i}-wrap`,
      label: `${nth} layer, which wrap`,
      options: make.choices(["wrap"]),
      cell: (band) => show(band, (layer) => make.named(layer.wrap)),
      set: (band, text) => put(band, { wrap: text }),
    },
    {
      ...fine,
      key: `layer-${i}-ends`,
      label: `${name}, over top/bottom`,
      cell: (band) => show(band, (layer) => `${layer.ends_top}/${layer.ends_bottom}`),
      set: (band, text) => {
        const two = ends(text);
        return two
          ? put(band, { ends_top: two[0], ends_bottom: two[1] })
          : "thicknesses over top/bottom, such as 2/2, at most 20";
      },
    },
    {
      ...fine,
      key: `layer-${i}-group`,
      label: `${name}, units together`,
      cell: (band) => show(band, (layer) => String(layer.per_units)),
      set: (band, text) => {
        const many = whole(text, 1, 24);
        return many === null ? "units wrapped together, 1 to 24" : put(band, { per_units: many });
      },
    },
    {
      ...make.length(
        `layer-${i}-overlap`,
        GROUP,
        `${name}, overlap`,
        "",
        (band) => band.layers[i]?.overlap_um ?? 50_000,
        (band, um) => put(band, { overlap_um: um }),
        true,
      ),
      layer: i,
    },
    {
      ...fine,
      key: `layer-${i}-k`,
      label: `${name}, pressed to`,
      cell: (band) => show(band, (layer) => String(Number(layer.compression))),
      set: (band, text) => {
        const k = decimal(text, 1);
        return k === null || Number(k) === 0
          ? "a part of its thickness, above 0 and at most 1"
          : put(band, { compression: k });
      },
    },
  ];
}

export function wrapRows(make: RowMaker): Row[] {
  const { doc } = make;
  const layers = Math.max(...doc.bands.map((band) => band.layers.length), 0);
  const rows = Array.from({ length: layers }, (_, i) => layerRows(make, i)).flat();
  const boxed = doc.bands.find((band) => band.unit_box)?.unit_box;
  rows.push({
    key: "unit-box",
    group: GROUP,
    place: make.place(boxed),
    label: "Into a box of its own",
    fine: !boxed,
    options: make.choices(["unit_box"], true),
    cell: (band) => ({ text: make.named(band.unit_box), raw: band.unit_box ?? NONE }),
    set: (band, text) => ({ ...band, unit_box: text === NONE ? null : text }),
  });
  rows.push({
    key: "unit-box-sealed",
    group: GROUP,
    place: "",
    label: "That box is sealed",
    fine: true,
    options: YES_NO,
    cell: (band) => yes(band.unit_box_sealed),
    set: (band, text) => ({ ...band, unit_box_sealed: text === "yes" }),
  });
  rows.push(
    make.length(
      "gap",
      GROUP,
      "Gap to the next",
      "",
      (band) => band.gap_um,
      (band, um) => ({ ...band, gap_um: um }),
    ),
  );
  const sheet = doc.bands.find((band) => band.divider)?.divider;
  rows.push({
    key: "divider",
    group: GROUP,
    place: make.place(sheet),
    label: "Sheet between layers",
    fine: !sheet,
    options: make.choices(["insert"], true),
    cell: (band) => ({ text: make.named(band.divider), raw: band.divider ?? NONE }),
    set: (band, text) => ({ ...band, divider: text === NONE ? null : text }),
  });
  return rows;
}
