// @vitest-environment jsdom
import { act, renderHook, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { answering, around, type Sent } from "../../testing/server";
import type { RecipeDoc } from "./rows";
import { band } from "./samples";
import { useRecipe } from "./useRecipe";

type Recipe = Schemas["RecipeOut"];

const DOC = { code: "jars", name: "Jars", bands: [band(1, 1), band(2, 4)] } as unknown as RecipeDoc;
const recipe = (number = 3) =>
  ({
    id: 5,
    version: { number },
    document: DOC,
    figures: [{ first: 1, problem: "as saved" }],
    products: [],
  }) as unknown as Recipe;
const SLOT = "recipe-draft-5";

/** A server that works a changed recipe out and makes the next version of it. */
const working = ({ path }: Sent) =>
  path.endsWith("/preview")
    ? { json: { figures: [{ first: 1, problem: "worked out" }] } }
    : { json: { version: { number: 4 }, document: DOC } };

const editor = (given = recipe()) =>
  renderHook(({ data }) => useRecipe(data), {
    initialProps: { data: given },
    wrapper: around(),
  });

beforeEach(() => window.localStorage.clear());
afterEach(() => vi.unstubAllGlobals());

describe("a recipe being changed", () => {
  it("shows the figures of the change, once the hand rests", async () => {
    const sent = answering(working);
    const { result } = editor();
    expect(result.current.figures[0]?.problem).toBe("as saved");
    act(() => result.current.setBand(0, band(1, 1, { gap_um: 9_000 })));
    act(() => result.current.setBand(0, band(1, 1, { gap_um: 10_000 })));
    await waitFor(() => expect(result.current.figures[0]?.problem).toBe("worked out"));
    expect(sent.filter((one) => one.path.endsWith("/preview")).length).toBe(1);
  });

  it("survives a reload, goes back and forth, and is gone when it is dropped", () => {
    answering(working);
    const first = editor();
    act(() => first.result.current.setBand(0, band(1, 1, { gap_um: 9_000 })));
    first.unmount();
    const { result } = editor();
    expect([result.current.changed, result.current.doc.bands[0]?.gap_um]).toEqual([true, 9_000]);
    act(() => result.current.undo());
    expect([result.current.changed, result.current.canRedo]).toEqual([false, true]);
    act(() => result.current.redo());
    expect(result.current.changed).toBe(true);
    act(() => result.current.drop());
    expect([result.current.changed, window.localStorage.getItem(SLOT)]).toEqual([false, null]);
  });

  it("is saved upon the version it was made on, and says so when another came in between", async () => {
    const sent = answering(working);
    const { result, rerender } = editor();
    act(() => result.current.setBand(0, band(1, 1, { gap_um: 9_000 })));
    rerender({ data: recipe(4) });
    expect(result.current.behind).toBe(true);
    const done = vi.fn();
    act(() => result.current.saving.save("more air", done));
    await waitFor(() => expect(done).toHaveBeenCalled());
    const saved = sent.find((one) => one.path.endsWith("/versions"));
    expect(saved?.body).toMatchObject({ base_version: 3, reason: "more air" });
    expect(result.current.changed).toBe(false);
  });
});
