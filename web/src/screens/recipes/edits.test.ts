import { describe, expect, it } from "vitest";
import { conditionText, readCondition } from "./conditions";
import { changed, keepIn, readDraft, redo, undo } from "./draft";
import {
  copiedAcross,
  extended,
  joined,
  pasted,
  split,
  withLast,
  withLayerMoved,
  withSupply,
} from "./edits";
import { rowsOf, type RecipeDoc } from "./rows";
import { band, doc, layer, supply } from "./samples";
import { readWords, wordsOf } from "./words";

const DOC = doc(band(1, 2), band(3, 6), band(7, 12));
const SHELF = [
  supply("W-TIS", "wrap"),
  supply("W-HON", "wrap"),
  supply("C-05", "carton"),
  supply("C-14", "carton"),
];
const whole = (next: RecipeDoc | string): RecipeDoc => {
  if (typeof next === "string") throw new Error(next);
  return next;
};
const sizes = (of: RecipeDoc) => of.bands.map((one) => [one.first, one.last]);

describe("bands", () => {
  it("moving an end moves the next start, and no further than the next end", () => {
    expect(sizes(whole(withLast(DOC, 0, 4)))).toEqual([
      [1, 4],
      [5, 6],
      [7, 12],
    ]);
    expect(withLast(DOC, 0, 6)).toContain("next band ends at 6");
    expect(withLast(DOC, 1, 2)).toContain("starts at 3");
    expect(sizes(whole(withLast(DOC, 2, 30)))).toEqual([
      [1, 2],
      [3, 6],
      [7, 30],
    ]);
  });

  it("split and joined leave neither hole nor overlap", () => {
    expect(sizes(whole(split(DOC, 1, 4)))).toEqual([
      [1, 2],
      [3, 4],
      [5, 6],
      [7, 12],
    ]);
    expect(split(doc(band(1, 1)), 0, 1)).toContain("cannot be split");
    expect(sizes(whole(joined(DOC, 0)))).toEqual([
      [1, 6],
      [7, 12],
    ]);
    expect(joined(DOC, 2)).toContain("no band after");
    expect(sizes(extended(DOC))).toEqual([
      [1, 2],
      [3, 6],
      [7, 12],
      [13, 18],
    ]);
  });
});

describe("rows at once", () => {
  const rows = rowsOf(DOC, SHELF, "metric");
  const at = (key: string) => rows.findIndex((row) => row.key === key);

  it("a block from a spreadsheet goes down the rows and across the bands; faults are named and the rest is taken", () => {
    const result = pasted(DOC, rows, { row: at("bottom"), column: 1 }, "40\t50\n25 mm\tdeep\n");
    expect(result.doc.bands.map((one) => [one.cushion.bottom_um, one.cushion.side_um])).toEqual([
      [30_000, 20_000],
      [40_000, 25_000],
      [50_000, 20_000],
    ]);
    expect([result.changed, result.faults.length, result.faults[0]]).toEqual([
      3,
      1,
      expect.stringContaining("deep"),
    ]);
    expect(pasted(DOC, rows, { row: at("outer"), column: 0 }, "C-14").doc.bands[0]?.outers).toEqual(
      ["C-14"],
    );
    expect(pasted(DOC, rows, { row: 0, column: 2 }, "1\t2").faults[0]).toContain(
      "outside the grid",
    );
  });

  it("a cell copied across is in every band after it, not before", () => {
    const from = {
      ...DOC,
      bands: DOC.bands.map((one, n) => (n === 1 ? { ...one, gap_um: 12_000 } : one)),
    };
    const row = rows[at("gap")];
    expect(row && copiedAcross(from, row, 1).bands.map((one) => one.gap_um)).toEqual([
      8000, 12_000, 12_000,
    ]);
  });

  it("a moved layer changes places in every band that has both", () => {
    const uneven = doc(band(1, 2), band(3, 6, { layers: [layer("W-TIS")] }));
    expect(withLayerMoved(uneven, 0, 1).bands.map((one) => one.layers.map((l) => l.wrap))).toEqual([
      ["W-HON", "W-TIS"],
      ["W-TIS"],
    ]);
  });

  it("an added wrap goes round each unit before a group's, an added insert only where it is not", () => {
    const grouped = doc(band(1, 2, { layers: [layer("W-TIS"), layer("W-HON", "2", 3)] }));
    expect(
      withSupply(grouped, supply("W-WAX", "wrap")).bands[0]?.layers.map((l) => l.wrap),
    ).toEqual(["W-TIS", "W-WAX", "W-HON"]);
    const once = withSupply(DOC, supply("I-CARD", "insert"));
    expect(withSupply(once, supply("I-CARD", "insert"))).toEqual(once);
  });
});

describe("a draft", () => {
  it("goes back step by step and on again, and a new change ends what was undone", () => {
    const [a, b, c] = [DOC, extended(DOC), extended(extended(DOC))];
    let draft = changed(changed(null, 3, a, b), 3, b, c);
    draft = undo(undo(draft));
    expect([draft.doc, draft.base, undo(draft).doc]).toEqual([a, 3, a]);
    expect(redo(redo(draft)).doc).toEqual(c);
    expect(changed(redo(draft), 3, b, a).undone).toEqual([]);
  });

  it("is read back as it was kept; when the device is full the oldest steps go, never the draft", () => {
    let draft = changed(null, 1, DOC, extended(DOC));
    for (let n = 0; n < 20; n += 1) draft = changed(draft, 1, draft.doc, extended(draft.doc));
    let kept = "";
    const store = {
      setItem: (_: string, text: string) => {
        if (text.length > 60_000) throw new Error("full");
        kept = text;
      },
    };
    keepIn(store, "slot", draft);
    expect(readDraft(kept)?.doc).toEqual(draft.doc);
    expect(readDraft(kept)?.before.length).toBeLessThan(21);
    expect(readDraft(JSON.stringify({ base: 1, doc: DOC, before: [] }))?.undone).toEqual([]);
    expect(readDraft(null)).toBeNull();
  });
});

describe("words and conditions", () => {
  it("what is written reads back as the same recipe", () => {
    const full = {
      ...DOC,
      goods_checks: ["No crack"],
      ahead: [{ what: "Freeze the packs", hours_before: "12", minutes: "2" }],
      mix: [{ sku: "PRE-BLK", quantity: 2 }],
      buyer_note: "Keep the collar.",
    };
    expect(readWords(full, wordsOf(full))).toEqual(full);
    expect(readWords(DOC, { ...wordsOf(DOC), ahead: "soon: freeze" })).toContain(
      "hours | minutes | what",
    );
    expect(readWords(DOC, { ...wordsOf(DOC), mix: "PRE-BLK" })).toContain("number and a sku");
  });

  it("a condition is typed as it is shown", () => {
    for (const text of [
      "always",
      "first order",
      "no gift; from 40",
      "with PRE-BLK; to ALM BEL; 12-01 to 01-06",
      "later orders; without CLO-LIN",
    ]) {
      const read = readCondition(text);
      expect(typeof read === "string" ? read : conditionText(read.value)).toBe(text);
    }
    expect(readCondition("perhaps")).toContain("always, or");
  });
});
