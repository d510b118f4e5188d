import { describe, expect, it } from "vitest";
import { fromFile } from "./listFromFile";
import { readPlaces, toFile, usesVersion2 } from "./listToFile";
import {
  columnsOf,
  newList,
  newService,
  newSize,
  newSurcharge,
  pasted,
  withColumns,
  type FileDoc,
} from "./typedList";

const found = import.meta.glob<FileDoc>(
  [
    "../../../../demo/{tariffs,carriers,carriers/coming}/*.json",
    "../../../../tests/golden/marram-2026-10.json",
  ],
  {
    eager: true,
    import: "default",
  },
);
const files = Object.keys(found);
const read = (name: string): FileDoc =>
  structuredClone(found[files.find((path) => path.endsWith(name)) ?? ""] ?? {});

describe("a price list read from a file and written again", () => {
  it("there are files to try", () => expect(files.length).toBeGreaterThan(3));

  for (const path of files)
    for (const system of ["metric", "imperial"] as const)
      it(`${path} is the same document, ${system}`, () => {
        const file = read(path);
        const { file: again, unread } = toFile(fromFile(file, system), system);
        expect(unread).toEqual([]);
        expect(again).toEqual(file);
      });

  it("holds what was changed and nothing else", () => {
    const file = read("larkline-2026-07.json");
    const typed = fromFile(file, "metric");
    const first = typed.services[0]?.sizes[0];
    if (!first) throw new Error("no service");
    (first.cells[0] ?? [])[0] = "99.90";
    const again = toFile(typed, "metric").file as {
      services: { zones: { steps: { price: string }[] }[] }[];
    };
    const was = file as typeof again;
    expect(again.services[0]?.zones[0]?.steps[0]?.price).toBe("99.90");
    expect(again.services.slice(1)).toEqual(was.services.slice(1));
    expect(again.services[0]?.zones.slice(1)).toEqual(was.services[0]?.zones.slice(1));
  });
});

describe("a price list by hand", () => {
  const typed = newList("ALM", "2026-12-01", "metric");
  typed.carrier = "Hill Post";
  const size = { ...newSize(1), weights: ["500 g", "2 kg"], cells: [["3.20"], ["4,10"]] };
  const service = { ...newService(1), name: "Hill Parcel", sizes: [size] };
  service.limits.max_mg = "2 kg";
  typed.services = [service];

  it("is the file a carrier's would be", () => {
    const { file, unread } = toFile(typed, "metric");
    expect(unread).toEqual([]);
    expect(file).toEqual({
      format: "calm-cupboard/tariff",
      version: 1,
      carrier: "HILL-POST",
      carrier_name: "Hill Post",
      tariff_version: "2026-12-01",
      valid_from: "2026-12-01",
      zone_rules: [{ zone: "1", country: "ALM", prefixes: [""] }],
      services: [
        {
          code: "HILL-PARCEL",
          name: "Hill Parcel",
          limits: { max_mg: 2_000_000 },
          zones: [
            {
              zone: "1",
              transit_days: 2,
              steps: [
                { up_to_mg: 500_000, price: "3.20" },
                { up_to_mg: 2_000_000, price: "4.10" },
              ],
            },
          ],
          days_moved: [0, 1, 2, 3, 4],
          cut_off: "16:00",
        },
      ],
    });
  });

  it("says where something cannot be read", () => {
    const { unread } = toFile(
      {
        ...typed,
        services: [
          {
            ...service,
            sizes: [{ ...size, weights: ["heavy", "2 kg"] }],
            limits: { ...service.limits, longest_um: "long" },
          },
        ],
      },
      "metric",
    );
    expect(unread.map((one) => one.at)).toEqual([
      "Hill Parcel, longest side",
      "Hill Parcel, weights",
    ]);
  });
});

describe("what carriers' lists ask for besides", () => {
  const base = newList("ALM", "2026-12-01", "metric");
  const size = (name: string, price: string) => ({
    ...newSize(1, name),
    weights: ["2 kg"],
    cells: [[price]],
  });
  const of = (changes: object) => {
    const service = { ...newService(1), name: "Hill", sizes: [size("", "3.20")], ...changes };
    const { file, unread } = toFile({ ...base, services: [service] }, "metric");
    const [doc] = file.services as Record<string, unknown>[];
    return { file, unread, doc: doc ?? {} };
  };

  it("is written as version 2, and a plain list as version 1", () => {
    expect(of({}).file.version).toBe(1);
    expect(of({ discount: "10" }).file.version).toBe(2);
    expect(of({ refuses: ["live"] }).file.version).toBe(1);
    expect(of({ refuses: ["plants"] }).file.version).toBe(2);
    expect(
      usesVersion2({ services: [{ extra_cover: { each: "1", price: "1", most: "9" } }] }),
    ).toBe(false);
  });

  it("has classes of size, with prices of their own", () => {
    const small = size("Small", "2");
    small.limits.sum_of_sides_um = "60 cm";
    const { doc, unread } = of({ sizes: [small, size("Large", "5")] });
    expect(unread).toEqual([]);
    expect(doc.zones).toBeUndefined();
    expect(doc.formats).toMatchObject([
      { code: "SMALL", name: "Small", limits: { sum_of_sides_um: 600_000 } },
      { code: "LARGE", limits: {} },
    ]);
  });

  it("has increments in place of steps", () => {
    const even = size("", "");
    even.more = [{ first: "1 kg", base: "3", each: "500 g", price: "0,40", most: "15 kg" }];
    expect(of({ sizes: [even] }).doc.zones).toEqual([
      {
        zone: "1",
        transit_days: 2,
        increment: {
          first_mg: 1_000_000,
          base: "3",
          each_mg: 500_000,
          each: "0.40",
          max_mg: 15_000_000,
        },
      },
    ]);
  });

  it("has surcharges with several conditions", () => {
    const row = {
      ...newSurcharge(),
      name: "Peak islands",
      kind: "per_weight" as const,
      amount: "0,20",
      each: "500 g",
      least: "1",
      group: "place",
      conditions: [
        { what: "places" as const, value: "ALM: OK, QH" },
        { what: "season" as const, value: "from 2026-11-15 until 2026-12-31" },
        { what: "arrives" as const, value: "Sun, Sat" },
        { what: "weight_above_mg" as const, value: "5 kg" },
      ],
    };
    const { doc, unread } = of({ surcharges: [row] });
    expect(unread).toEqual([]);
    expect(doc.surcharges).toEqual([
      {
        code: "PEAK-ISLANDS",
        name: "Peak islands",
        kind: "per_weight",
        amount: "0.20",
        each_mg: 500_000,
        least: "1",
        group: "place",
        country: "ALM",
        prefixes: ["OK", "QH"],
        from_on: "2026-11-15",
        until_on: "2026-12-31",
        arrives_on_days: [5, 6],
        weight_above_mg: 5_000_000,
      },
    ]);
    const wrong = of({
      surcharges: [
        {
          ...row,
          conditions: [
            { what: "season", value: "winter" },
            { what: "arrives", value: "late" },
            { what: "longest_above_um", value: "" },
          ],
        },
      ],
    });
    expect(wrong.unread.map((one) => one.at)).toEqual(
      Array<string>(3).fill("Hill, surcharge Peak islands"),
    );
  });

  it("has cover in tiers, taxes by place, a rounded sum, zones of its own", () => {
    const { doc } = of({
      more: { ...newService(1).more, way: "tiers", tiers: "100: 1.00; 500: 3,50", most: "500" },
      taxes: [{ percent: "0", countries: "vel", zones: "" }],
      totalTo: "0.05",
      totalRounding: "up",
      furtherPercent: "60",
      zones: [{ zone: "S", country: "alm", places: "", was: null }],
    });
    expect(doc).toMatchObject({
      extra_cover: {
        most: "500",
        tiers: [
          { up_to: "100", price: "1.00" },
          { up_to: "500", price: "3.50" },
        ],
      },
      taxes: [{ percent: "0", countries: ["VEL"] }],
      round_total: { to: "0.05", rounding: "up" },
      further: { percent: "60" },
      zone_rules: [{ zone: "S", country: "ALM", prefixes: [""] }],
      zones: [{ zone: "S" }],
    });
  });
});

describe("zones", () => {
  it("are read from a pasted list", () => {
    expect(readPlaces("AB, AC;10-19\n20 to 29\tC1")).toEqual({
      prefixes: ["AB", "AC", "C1"],
      ranges: [
        ["10", "19"],
        ["20", "29"],
      ],
    });
    expect(readPlaces(" ")).toEqual({ prefixes: [""], ranges: [] });
  });

  it("take their prices along when they move, are renamed or go", () => {
    const row = { ...newSize(2), cells: [["1", "2"]], weights: ["1 kg"], days: ["1", "3"] };
    expect(withColumns([row], ["1", "2"], ["2", "1"])[0]?.cells).toEqual([["2", "1"]]);
    expect(withColumns([row], ["1", "2"], ["1", "far"])[0]?.days).toEqual(["1", "3"]);
    expect(withColumns([row], ["1", "2"], ["2"])[0]?.cells).toEqual([["2"]]);
    expect(withColumns([row], ["1", "2"], ["1", "2", "3"])[0]?.cells).toEqual([["1", "2", ""]]);
    expect(columnsOf({ zones: [], others: "R" })).toEqual(["R"]);
  });
});

describe("a block from a spreadsheet", () => {
  it("fills the grid from the cell on, and grows it downwards", () => {
    const row = { ...newSize(2), weights: ["1 kg"], cells: [["", ""]] };
    const now = pasted(row, 0, -1, "500 g\t3.20\t4.10\r\n2 kg\t3.90\t4.90\t9\n");
    expect(now.weights).toEqual(["500 g", "2 kg"]);
    expect(now.cells).toEqual([
      ["3.20", "4.10"],
      ["3.90", "4.90"],
    ]);
    expect(pasted(row, 0, 1, "7").cells).toEqual([["", "7"]]);
  });
});
