import { describe, expect, it } from "vitest";
import { fromFile } from "./listFromFile";
import { readPlaces, toFile } from "./listToFile";
import { columnsOf, newList, newService, pasted, withColumns, type FileDoc } from "./typedList";

const found = import.meta.glob<FileDoc>(
  "../../../../demo/{tariffs,carriers,carriers/coming}/*.json",
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
    const first = typed.services[0];
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
  const service = { ...newService(1), name: "Hill Parcel", weights: ["500 g", "2 kg"] };
  service.cells = [["3.20"], ["4,10"]];
  service.heaviest = "2 kg";
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
      { ...typed, services: [{ ...service, weights: ["heavy", "2 kg"], longest: "long" }] },
      "metric",
    );
    expect(unread.map((one) => one.at)).toEqual([
      "Hill Parcel, longest side",
      "Hill Parcel, weights",
    ]);
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
    const row = { ...newService(2), cells: [["1", "2"]], weights: ["1 kg"], days: ["1", "3"] };
    expect(withColumns([row], ["1", "2"], ["2", "1"])[0]?.cells).toEqual([["2", "1"]]);
    expect(withColumns([row], ["1", "2"], ["1", "far"])[0]?.days).toEqual(["1", "3"]);
    expect(withColumns([row], ["1", "2"], ["2"])[0]?.cells).toEqual([["2"]]);
    expect(withColumns([row], ["1", "2"], ["1", "2", "3"])[0]?.cells).toEqual([["1", "2", ""]]);
    expect(columnsOf({ zones: [], others: "R" })).toEqual(["R"]);
  });
});

describe("a block from a spreadsheet", () => {
  it("fills the grid from the cell on, and grows it downwards", () => {
    const row = { ...newService(2), weights: ["1 kg"], cells: [["", ""]] };
    const now = pasted(row, 0, -1, "500 g\t3.20\t4.10\r\n2 kg\t3.90\t4.90\t9\n");
    expect(now.weights).toEqual(["500 g", "2 kg"]);
    expect(now.cells).toEqual([
      ["3.20", "4.10"],
      ["3.90", "4.90"],
    ]);
    expect(pasted(row, 0, 1, "7").cells).toEqual([["", "7"]]);
  });
});
