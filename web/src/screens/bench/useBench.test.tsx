// @vitest-environment jsdom
import { act, renderHook, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { answering, around } from "../../testing/server";
import { useBench } from "./useBench";

type Parcel = Schemas["ParcelOut"];

const step = (kind: string, tick_units = 0) => ({ kind, title: kind, tick_units, layer: null });
const parcel = (more: object = {}) =>
  ({
    id: 7,
    state: "packing",
    step: 0,
    ticked: {},
    skipped: [],
    steps: [step("gather"), step("check", 2), step("pack"), step("weigh"), step("label")],
    ...more,
  }) as unknown as Parcel;
const bench = (given: Parcel) => renderHook(() => useBench(given), { wrapper: around() });
const UNSENT = "bench-unsent-7";

beforeEach(() => window.localStorage.clear());
afterEach(() => vi.unstubAllGlobals());

describe("the bench", () => {
  it("ticks the units of a step before it goes on, and back again", async () => {
    const sent = answering(() => ({ json: {} }));
    const { result } = bench(parcel({ step: 1 }));
    act(() => result.current.next());
    expect([result.current.at, result.current.ticks]).toEqual([1, 1]);
    act(() => result.current.next());
    act(() => result.current.next());
    expect(result.current.at).toBe(2);
    act(() => result.current.back());
    expect([result.current.at, result.current.ticks]).toEqual([1, 2]);
    act(() => result.current.back());
    expect(result.current.ticks).toBe(1);
    await waitFor(() => expect(sent.length).toBe(5));
    expect(sent.at(-1)).toEqual({
      method: "POST",
      path: "/api/parcels/7/progress",
      body: { step: 1, ticked: { 1: 1 }, skipped: [], spent: {} },
    });
    await waitFor(() => expect(window.localStorage.getItem(UNSENT)).toBeNull());
  });

  it("keeps what the server has not confirmed on the device, and sends it when the page is back", async () => {
    answering(() => Promise.reject(new TypeError("no connection")));
    const first = bench(parcel());
    act(() => first.result.current.next());
    expect(window.localStorage.getItem(UNSENT)).toContain('"step":1');
    first.unmount();
    const sent = answering(() => ({ json: {} }));
    const again = bench(parcel());
    expect(again.result.current.at).toBe(1);
    await waitFor(() => expect(sent.map((one) => one.path)).toContain("/api/parcels/7/progress"));
  });

  it("sends by itself what was ticked while the connection was gone", async () => {
    answering(() => Promise.reject(new TypeError("no connection")));
    const { result } = bench(parcel());
    act(() => result.current.next());
    await waitFor(() => expect(result.current.offline).toBe(true), { timeout: 15_000 });
    act(() => result.current.next());
    expect(result.current.ticks).toBe(1);
    const sent = answering(() => ({ json: {} }));
    await waitFor(() => expect(sent.at(-1)?.body).toMatchObject({ step: 1, ticked: { 1: 1 } }), {
      timeout: 15_000,
    });
    await waitFor(() => expect(result.current.offline).toBe(false));
  }, 40_000);

  it("leaves steps gone past open, and takes one off when it is done", () => {
    answering(() => ({ json: {} }));
    const { result } = bench(parcel());
    expect(result.current.openBefore("weigh")).toEqual([0, 1, 2]);
    act(() => result.current.jump("weigh", [1, 2]));
    expect([result.current.at, result.current.skipped]).toEqual([3, [1, 2]]);
    act(() => result.current.goTo(2));
    act(() => result.current.next());
    expect(result.current.skipped).toEqual([1]);
  });

  it("closes with one key however often it is pressed, and with another after it was opened again", async () => {
    const keys: unknown[] = [];
    answering(({ path, body }) => {
      if (path.endsWith("/close")) keys.push((body as { request_key: string }).request_key);
      return keys.length === 1 && path.endsWith("/close")
        ? {
            status: 503,
            json: { detail: "busy", code: "busy", status: 503, faults: [], facts: {} },
          }
        : { json: parcel() };
    });
    const { result } = bench(parcel({ step: 4 }));
    act(() => result.current.close());
    await waitFor(() => expect(result.current.error).toBeTruthy());
    act(() => result.current.close());
    await waitFor(() => expect(keys.length).toBe(2));
    await waitFor(() => expect(result.current.busy).toBe(false));
    act(() => result.current.reopen("card left out"));
    await waitFor(() => expect(result.current.busy).toBe(false));
    act(() => result.current.close());
    await waitFor(() => expect(keys.length).toBe(3));
    expect(keys[0]).toBe(keys[1]);
    expect(keys[2]).not.toBe(keys[0]);
  });
});
