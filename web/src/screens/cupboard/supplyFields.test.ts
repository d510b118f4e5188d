import { describe, expect, it } from "vitest";
import {
  codeFor,
  factsOf,
  fieldsOfKind,
  KIND_WORDS,
  typedOf,
  type Item,
  type Kind,
} from "./supplyFields";

const files = import.meta.glob<{ supplies: Item[] }>("../../../../demo/{.,range}/supplies.json", {
  eager: true,
  import: "default",
});
const items = Object.values(files).flatMap((file) => file.supplies);
const plain = (facts: unknown) =>
  Object.fromEntries(
    Object.entries(facts as Record<string, unknown>).filter(
      ([, value]) => value !== null && value !== false && value !== undefined,
    ),
  );

describe("a supply's form", () => {
  for (const system of ["metric", "imperial"] as const)
    it(`keeps every fact that is not touched, ${system}`, () => {
      expect(items.length).toBeGreaterThan(40);
      for (const item of items) {
        const kind = item.facts.kind;
        const read = factsOf(kind, typedOf(item, kind, system), item, system, null);
        expect(read.faults, item.code).toEqual({});
        expect(plain(read.facts), item.code).toEqual(plain(item.facts));
      }
    });

  it("asks something of every kind, and each field once", () => {
    for (const kind of Object.keys(KIND_WORDS) as Kind[]) {
      const keys = fieldsOfKind(kind).map((field) => field.key);
      expect(new Set(keys).size).toBe(keys.length);
      const read = factsOf(kind, {}, null, "metric", null);
      expect(Object.keys(read.faults).length).toBeGreaterThan(0);
    }
  });

  it("takes the estimate where nothing was measured, and says so", () => {
    const typed = {
      ...typedOf(null, "carton", "metric"),
      "inner.length_um": "250",
      "inner.width_um": "18 cm",
      "inner.height_um": "120",
      max_load_mg: "4 kg",
    };
    const read = factsOf("carton", typed, null, "metric", {
      tare_mg: 145_000,
      max_load_mg: 5_500_000,
    });
    expect(read.faults).toEqual({});
    expect(read.estimated).toEqual(["tare_mg"]);
    expect(read.facts).toMatchObject({
      kind: "carton",
      inner: { length_um: 250_000, width_um: 180_000, height_um: 120_000 },
      tare_mg: 145_000,
      max_load_mg: 4_000_000,
      board: "single",
      cut: null,
    });
  });

  it("reads inches, and grams of a square metre", () => {
    const carton = { "inner.length_um": "8 1/2", "inner.width_um": "6", "inner.height_um": "4 in" };
    const typed = {
      ...typedOf(null, "carton", "imperial"),
      ...carton,
      tare_mg: "5",
      max_load_mg: "20 lb",
    };
    expect(factsOf("carton", typed, null, "imperial", null).facts).toMatchObject({
      inner: { length_um: 215_900, width_um: 152_400, height_um: 101_600 },
    });
    const wrap = {
      ...typedOf(null, "wrap", "metric"),
      roll_width_um: "380",
      thickness_um: "4",
      mg_per_m2: "82",
    };
    expect(
      factsOf("wrap", { ...wrap, mg_per_m2: "0.27" }, null, "imperial", null).facts,
    ).toMatchObject({ mg_per_m2: 82_391 });
    expect(factsOf("wrap", wrap, null, "metric", null).facts).toMatchObject({
      mg_per_m2: 82_000,
      sheet_um: null,
    });
  });

  it("asks about what could be two numbers", () => {
    const typed = { ...typedOf(null, "insert", "metric"), weight_mg: "1,200" };
    expect(factsOf("insert", typed, null, "metric", null).faults.weight_mg).toContain("may be");
  });

  it("asks of a pack and of a liner only what they are, and takes the rest away when it is another", () => {
    const card = { ...typedOf(null, "insert", "metric"), weight_mg: "400", thickness_um: "25" };
    expect(factsOf("insert", card, null, "metric", null).facts).toMatchObject({
      liner: null,
      pack: null,
    });
    const gel = { ...card, serves: "gel", "pack.length_um": "150", "pack.width_um": "100" };
    const made = factsOf("insert", gel, null, "metric", null);
    expect(made.faults).toEqual({});
    expect(made.facts).toMatchObject({
      liner: null,
      pack: { kind: "gel", length_um: 150_000, width_um: 100_000, freeze_hours: "12" },
    });
    const back = typedOf(made, "insert", "metric");
    expect([back.serves, back["pack.length_um"]]).toEqual(["gel", "150"]);
    const heat = { ...back, serves: "heat", "pack.rated_hours": "72" };
    expect(factsOf("insert", heat, made, "metric", null).facts).toMatchObject({
      pack: { kind: "heat", power_mw: 1600, rated_hours: "72" },
    });
    const liner = {
      ...back,
      serves: "liner",
      "liner.tested_hours": "12",
      "liner.tested_inner.length_um": "250",
      "liner.tested_inner.width_um": "200",
      "liner.tested_inner.height_um": "150",
    };
    expect(factsOf("insert", liner, made, "metric", null).facts).toMatchObject({
      pack: null,
      liner: { tested_hours: "12", tested_inner: { length_um: 250_000 } },
    });
    const half = factsOf("insert", { ...liner, "liner.tested_hours": "" }, made, "metric", null);
    expect(half.facts).toMatchObject({ liner: { conductivity_mw_per_mk: 36 } });
    expect((half.facts as { liner: object }).liner).not.toHaveProperty("tested_inner");
    expect(factsOf("insert", { ...back, serves: "" }, made, "metric", null).facts).toMatchObject({
      pack: null,
    });
  });

  it("makes a code that nothing else has", () => {
    const typed = { "inner.length_um": "250", "inner.width_um": "180", "inner.height_um": "120" };
    expect(codeFor("carton", typed, "", [])).toBe("C-250-180-120");
    expect(codeFor("carton", typed, "", ["c-250-180-120"])).toBe("C-250-180-120-2");
    expect(codeFor("wrap", {}, "Tissue, white", [])).toBe("TISSUE-WHITE");
  });
});
