/** Rows against heat and cold: what lines the carton, which packs, always or when the weather asks for them. No DOM. */
import { NONE, whole, type Band, type Row, type RowMaker } from "./rows";

const GROUP = "Against heat and cold";
type Thermal = NonNullable<Band["thermal"]>;

const EMPTY: Thermal = { liner: null, packs: [], when: "needed", least: 0 };

/** The band with another thermal part; without liner and packs it has none. */
function change(band: Band, now: Partial<Thermal>): Band {
  const thermal = { ...(band.thermal ?? EMPTY), ...now };
  return { ...band, thermal: thermal.liner || thermal.packs.length > 0 ? thermal : null };
}

export function careRows(make: RowMaker): Row[] {
  const used = make.doc.bands.some((band) => band.thermal);
  const pack = (at: number): Row => ({
    key: `thermal-pack-${at}`,
    group: GROUP,
    place: make.place(make.doc.bands.find((band) => band.thermal?.packs[at])?.thermal?.packs[at]),
    label: at ? "Else this pack" : "Pack",
    fine: !used || (at > 0 && !make.doc.bands.some((band) => band.thermal?.packs[at])),
    options: make.choices(["pack"], true),
    cell: (band) => ({
      text: make.named(band.thermal?.packs[at]),
      raw: band.thermal?.packs[at] ?? NONE,
    }),
    set: (band, text) => {
      const packs = (band.thermal?.packs ?? []).filter((code, n) => n !== at && code !== text);
      if (text !== NONE) packs.splice(at, 0, text);
      return change(band, { packs });
    },
  });
  return [
    {
      key: "thermal-liner",
      group: GROUP,
      place: make.place(make.doc.bands.find((band) => band.thermal?.liner)?.thermal?.liner),
      label: "Liner",
      fine: !used,
      options: make.choices(["liner"], true),
      cell: (band) => ({
        text: make.named(band.thermal?.liner),
        raw: band.thermal?.liner ?? NONE,
      }),
      set: (band, text) => change(band, { liner: text === NONE ? null : text }),
    },
    pack(0),
    pack(1),
    {
      key: "thermal-when",
      group: GROUP,
      place: "",
      label: "They go in",
      fine: !used,
      options: [
        { value: "needed", text: "when needed" },
        { value: "always", text: "always" },
      ],
      cell: (band) => ({
        text: band.thermal ? (band.thermal.when === "always" ? "always" : "when needed") : NONE,
        raw: band.thermal?.when ?? "needed",
      }),
      set: (band, text) =>
        band.thermal
          ? change(band, { when: text === "always" ? "always" : "needed" })
          : "name a liner or a pack first",
    },
    {
      key: "thermal-least",
      group: GROUP,
      place: "",
      label: "At least so many packs",
      fine: !used,
      cell: (band) => ({
        text: band.thermal ? String(band.thermal.least) : NONE,
        raw: String(band.thermal?.least ?? 0),
      }),
      set: (band, text) => {
        const least = whole(text, 0, 12);
        if (least === null) return "a whole number from 0 to 12";
        return band.thermal ? change(band, { least }) : "name a liner or a pack first";
      },
    },
  ];
}
