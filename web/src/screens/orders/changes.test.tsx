// @vitest-environment jsdom
import { cleanup, fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { answering } from "../../testing/server";
import { renderSignedIn } from "../../testing/signedIn";
import { ChangesScreen } from "./ChangesScreen";
import { LookNotice } from "./LookNotice";
import { UnknownGoods } from "./UnknownGoods";

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const sketch = (more: object) => ({
  planned: true,
  containers: ["C-14"],
  gross_mg: 1_500_000,
  service: "Two-day",
  arrives_on: "2026-12-01",
  postage: "5.00",
  total: "9.00",
  missing: [],
  zone_known: true,
  ...more,
});
const order = (more: object) => ({
  id: 3,
  number: "W-1",
  state: "held",
  channel: "Stall",
  buyer: "Hedda Lorn",
  parcel_id: null,
  tracking: "",
  joined: [],
  joined_into: "",
  lines: [{ sku: "PRE", title: "Preserve", quantity: 2 }],
  ...more,
});
const change = (more: object) => ({
  id: 7,
  kind: "changed",
  order: order({}),
  came_at: "2026-11-29T10:00:00Z",
  differences: [{ part: "goods", of: "PRE", before: "2", after: "4" }],
  may_apply: true,
  ...more,
});
const page = (results: object[]) => ({ count: results.length, page: 1, pages: 1, results });

const there = (changes: object[], offers: object[], effect: object) =>
  answering(({ path }) => {
    if (path.endsWith("/effect")) return { json: { shifts: [], label: "", ...effect } };
    if (path.includes("/joins")) return { json: { offers } };
    if (path.includes("/changes")) return { json: page(changes) };
    return { json: order({}) };
  });

describe("an order that came again otherwise", () => {
  it("says what is different and what it does, and is applied when asked", async () => {
    const sent = there([change({})], [], {
      before: sketch({}),
      after: sketch({ gross_mg: 2_000_000, total: "9.80" }),
      label: "Two-day, TW1",
    });
    renderSignedIn(<ChangesScreen />);
    await screen.findByText(/W-1, Hedda Lorn/);
    expect(screen.getByText("4")).toBeTruthy();
    await screen.findByText("9.80");
    expect(screen.getByText(/A label is bought: Two-day, TW1/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Apply the change" }));
    await waitFor(() =>
      expect(sent.some((one) => one.path === "/api/orders/changes/7/apply")).toBe(true),
    );
  });

  it("cannot be applied under a packer's hands, and says so", async () => {
    there([change({ may_apply: false, order: order({ state: "bench", parcel_id: 9 }) })], [], {
      before: sketch({}),
      after: sketch({}),
    });
    renderSignedIn(<ChangesScreen />);
    await screen.findByText(/Take it off there first/);
    expect(screen.getByRole("button", { name: "Apply the change" }).hasAttribute("disabled")).toBe(
      true,
    );
    expect(screen.getByRole("link", { name: "Open it at the bench" })).toBeTruthy();
  });

  it("sends nothing when it is cancelled", async () => {
    there([change({ kind: "cancelled", differences: [] })], [], {
      before: sketch({}),
      after: null,
    });
    renderSignedIn(<ChangesScreen />);
    await screen.findByText("nothing is sent");
    expect(screen.getByRole("button", { name: "Cancel the order" })).toBeTruthy();
  });
});

describe("orders of one buyer", () => {
  const offer = {
    buyer: "Ida Brook",
    place: ["7 Mill Lane"],
    orders: [order({}), order({ id: 4, number: "W-2" })],
  };

  it("are advised to go as one parcel only where that costs less", async () => {
    there([], [offer], { before: sketch({ total: "12.00" }), after: sketch({ total: "9.00" }) });
    renderSignedIn(<ChangesScreen />);
    await screen.findByText("One parcel costs 3.00 less than 2.");
    cleanup();
    there([], [offer], { before: sketch({ total: "9.00" }), after: sketch({ total: "10.50" }) });
    renderSignedIn(<ChangesScreen />);
    await screen.findByText(/One parcel costs 1.50 more than 2: leave them apart/);
  });

  it("are told above the list of orders", async () => {
    there([change({})], [offer], {});
    renderSignedIn(<LookNotice />);
    await screen.findByText(/1 order was changed or cancelled by the channel; 1 buyer has several/);
  });
});

describe("goods nobody knows", () => {
  it("are shown with how often they come, and a match is taken back", () => {
    const match = vi.fn();
    answering(() => ({ json: page([]) }));
    renderSignedIn(
      <UnknownGoods
        unknown={[{ said: "jam", title: "Black jam", lines: 3 }]}
        matched={{ mug: "MUG-BLU" }}
        onMatch={match}
      />,
    );
    expect(screen.getByText(/Black jam, 3 lines/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Undo" }));
    expect(match).toHaveBeenCalledWith("mug", null);
  });
});
