import { describe, expect, it } from "vitest";
import { bandName, rowsOf, type Band, type Row } from "./rows";
import { band as sample, doc, layer, supply } from "./samples";

const SHELF = [
  supply("C-05", "carton", { name: "Carton small", shelf: "A", slot: 1 }),
  supply("C-14", "carton", { name: "Carton large", shelf: "A", slot: 4 }),
  supply("M-2", "mailer", { name: "Mailer", shelf: "A", slot: 9 }),
  supply("W-HON", "wrap", { name: "Honeycomb paper, 380 mm", shelf: "B", slot: 2 }),
  supply("F-KRA", "fill", { name: "Crumpled kraft", shelf: "C", slot: 1 }),
  supply("T-PAP", "tape", { name: "Paper tape", shelf: "C", slot: 3 }),
  supply("I-CARD", "insert", { name: "Card", shelf: "D", slot: 1 }),
];

const band = (first: number, last: number, changes: Partial<Band> = {}): Band =>
  sample(first, last, {
    layers: [{ ...layer("W-HON", "2"), ends_top: 2, ends_bottom: 2 }],
    fill: "F-KRA",
    closure: {
      tape: "T-PAP",
      pattern: "h",
      both_faces: true,
      overhang_um: 65_000,
      required_grade: "none",
    },
    inserts: [
      {
        insert: "I-CARD",
        amount: 1,
        per: "parcel",
        place: "top",
        required: false,
        group_of: 1,
        when: null,
        samples: [],
      },
    ],
    minutes: { per_unit: "1.5", per_parcel: "3", per_order: "0" },
    ...changes,
  });

const DOC = doc(band(1, 1), band(2, 6, { inserts: [], outers: ["C-14", "C-05"], any_outer: true }));
const ROWS = rowsOf(DOC, SHELF, "metric");
const row = (key: string): Row => {
  const found = ROWS.find((one) => one.key === key);
  if (!found) throw new Error(key);
  return found;
};
const first = DOC.bands[0] as Band;
const second = DOC.bands[1] as Band;
const changed = (key: string, text: string, of: Band = first): Band => {
  const result = row(key).set(of, text);
  if (typeof result === "string") throw new Error(result);
  return result;
};

describe("the rows of a recipe", () => {
  it("stand in packing order with the place on the shelf", () => {
    expect(ROWS.map((one) => one.key)).toEqual([
      "layer-0",
      "gap",
      "outer",
      "bottom",
      "side",
      "top",
      "fill",
      "school",
      "insert-I-CARD",
      "tape",
      "pattern",
      "per_unit",
      "per_parcel",
    ]);
    expect([
      row("layer-0").place,
      row("layer-0").label,
      row("fill").place,
      row("insert-I-CARD").place,
    ]).toEqual(["B2", "Honeycomb paper, turns", "C1", "D1"]);
  });

  it("cells say what the band does", () => {
    expect(
      [
        "layer-0",
        "gap",
        "outer",
        "bottom",
        "fill",
        "insert-I-CARD",
        "tape",
        "pattern",
        "per_unit",
      ].map((key) => row(key).cell(first).text),
    ).toEqual([
      "2",
      "8 mm",
      "C-05",
      "30 mm",
      "Crumpled kraft",
      "1",
      "Paper tape",
      "H, both faces",
      "1.5",
    ]);
    expect([row("outer").cell(second).text, row("insert-I-CARD").cell(second).text]).toEqual([
      "C-14, C-05, or any",
      "none",
    ]);
  });

  it("lengths are shown and read in inches where the workshop likes them", () => {
    const rows = rowsOf(DOC, SHELF, "imperial");
    expect(rows.find((one) => one.key === "bottom")?.cell(first).text).toBe("1.2 in");
  });

  it("bands are named by their sizes", () => {
    expect(DOC.bands.map(bandName)).toEqual(["1", "2 to 6"]);
  });
});

describe("changing a cell", () => {
  it("changes only its own field and leaves the old band as it was", () => {
    const next = changed("bottom", "40");
    expect(next.cushion).toEqual({ bottom_um: 40_000, side_um: 20_000, top_um: 20_000 });
    expect(first.cushion.bottom_um).toBe(30_000);
    expect({ ...next, cushion: first.cushion }).toEqual(first);
  });

  it("turns, minutes, fill, tape and pattern follow what is typed or picked", () => {
    expect(changed("layer-0", "1,5").layers[0]?.turns).toBe("1.5");
    expect(changed("per_unit", "2.25").minutes.per_unit).toBe("2.25");
    expect(changed("fill", "none").fill).toBeNull();
    expect(changed("tape", "T-PAP").closure?.tape).toBe("T-PAP");
    expect(changed("pattern", "cross").closure?.pattern).toBe("cross");
  });

  it("a container picked comes first and is not named twice", () => {
    expect(changed("outer", "C-05", second).outers).toEqual(["C-05"]);
    expect(changed("outer", "M-2", second).outers).toEqual(["M-2", "C-05"]);
  });

  it("an insert at nought goes out, and comes in where it was not", () => {
    expect(changed("insert-I-CARD", "0").inserts).toEqual([]);
    expect(changed("insert-I-CARD", "2", second).inserts).toEqual([
      {
        insert: "I-CARD",
        amount: 2,
        per: "parcel",
        place: "top",
        required: false,
        group_of: 1,
        when: null,
        samples: [],
      },
    ]);
  });

  it("what is not allowed is answered in words and changes nothing", () => {
    for (const [key, text] of [
      ["bottom", "deep"],
      ["bottom", "900"],
      ["layer-0", "some"],
      ["layer-0", "99"],
      ["insert-I-CARD", "1.5"],
      ["insert-I-CARD", "900"],
      ["per_unit", "-1"],
      ["per_parcel", "9999"],
    ] as const) {
      expect(typeof row(key).set(first, text), `${key} ${text}`).toBe("string");
    }
  });

  it("a band with its own seal is taped when a tape is picked, and has no pattern before", () => {
    const sealed = { ...first, closure: null };
    expect(changed("tape", "T-PAP", sealed).closure).toEqual({
      tape: "T-PAP",
      pattern: "h",
      both_faces: true,
      overhang_um: 65_000,
      required_grade: "none",
    });
    expect(typeof row("pattern").set(sealed, "cross")).toBe("string");
    expect(changed("tape", "none").closure).toBeNull();
  });

  it("a layer at nought turns is left out of the band and comes back as the others have it", () => {
    const bare = changed("layer-0", "0");
    expect(bare.layers).toEqual([]);
    expect(changed("layer-0", "3", bare).layers).toEqual([{ ...first.layers[0], turns: "3" }]);
  });
});

describe("all rows", () => {
  const all = rowsOf(DOC, SHELF, "metric", true);
  const set = (key: string, text: string, of: Band = first) =>
    all.find((one) => one.key === key)?.set(of, text);

  it("reach every field of a band", () => {
    const texts: Record<string, string> = {
      "layer-0-wrap": "W-HON",
      "layer-0-ends": "3/1",
      "layer-0-group": "2",
      "layer-0-overlap": "70",
      "layer-0-k": "0.8",
      "unit-box": "C-05",
      "unit-box-sealed": "yes",
      divider: "I-CARD",
      inner: "C-05",
      "outer-second": "M-2",
      "any-outer": "yes",
      fill_below: "F-KRA",
      fill_above: "F-KRA",
      proud: "8",
      "insert-I-CARD-per": "unit",
      "insert-I-CARD-place": "bottom",
      "insert-I-CARD-required": "yes",
      "insert-I-CARD-when": "gift",
      faces: "no",
      grade: "evident",
      "thermal-liner": "I-LIN",
      "thermal-pack-0": "I-GEL",
      "thermal-pack-1": "I-ICE",
      "thermal-when": "always",
      "thermal-least": "2",
      overhang: "80",
      marks: "Fragile, Heavy",
      steps: "Warm the pack",
      per_order: "2",
      school: "base_fixed",
    };
    let now: Band = first;
    for (const [key, text] of Object.entries(texts)) {
      const next = set(key, text, now);
      expect(typeof next, key).toBe("object");
      expect(JSON.stringify(next), key).not.toBe(key === "layer-0-wrap" ? "" : JSON.stringify(now));
      now = next as Band;
    }
    expect(now.thermal).toEqual({
      liner: "I-LIN",
      packs: ["I-GEL", "I-ICE"],
      when: "always",
      least: 2,
    });
    expect(set("thermal-pack-1", "none", now)).toMatchObject({ thermal: { packs: ["I-GEL"] } });
    expect(set("thermal-when", "always", first)).toBe("name a liner or a pack first");
    expect(set("thermal-least", "40", now)).toBe("a whole number from 0 to 12");
    expect(now.layers[0]).toEqual({
      wrap: "W-HON",
      turns: "2",
      ends_top: 3,
      ends_bottom: 1,
      compression: "0.8",
      overlap_um: 70_000,
      per_units: 2,
    });
    expect([
      now.marks,
      now.steps,
      now.inserts[0]?.when?.gift,
      now.closure?.required_grade,
      now.outers,
    ]).toEqual([["Fragile", "Heavy"], ["Warm the pack"], true, "evident", ["C-05", "M-2"]]);
  });
});
