// @vitest-environment jsdom
import { act, cleanup, renderHook } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import { forgetDrafts, useDraft } from "./useDraft";

afterEach(() => {
  cleanup();
  window.localStorage.clear();
});
const opened = (name = "one") =>
  renderHook(function useOne() {
    return useDraft(name, () => "new");
  });

describe("a draft", () => {
  it("is there again after a reload, and says so", () => {
    const first = opened();
    expect([first.result.current.value, first.result.current.restored]).toEqual(["new", false]);
    act(() => first.result.current.setValue("typed"));
    first.unmount();
    const again = opened();
    expect([again.result.current.value, again.result.current.restored]).toEqual(["typed", true]);
    expect(opened("other").result.current.value).toBe("new");
  });

  it("is gone when it was saved, and when one begins again", () => {
    const { result } = opened();
    act(() => result.current.setValue("typed"));
    act(() => result.current.drop());
    act(() => result.current.setValue("after"));
    expect(opened().result.current.value).toBe("new");
    const other = opened("two");
    act(() => other.result.current.setValue("typed"));
    act(() => other.result.current.restart());
    expect([other.result.current.value, other.result.current.restored]).toEqual(["new", false]);
    expect(opened("two").result.current.restored).toBe(false);
  });

  it("is not kept where nothing was typed, nor when somebody signs out", () => {
    opened();
    expect(window.localStorage).toHaveLength(0);
    const { result } = opened();
    act(() => result.current.setValue("typed"));
    window.localStorage.setItem("theme", "dim");
    forgetDrafts();
    expect(Object.keys(window.localStorage)).toEqual(["theme"]);
  });

  it("of an older shape does not stand in the way", () => {
    window.localStorage.setItem("draft:one", "{broken");
    expect(opened().result.current.value).toBe("new");
  });
});
