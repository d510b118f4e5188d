// @vitest-environment jsdom
import { cleanup, fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { answering } from "../../testing/server";
import { renderSignedIn } from "../../testing/signedIn";
import { OrderTable, type Order } from "./OrderTable";
import { WaveNotice } from "./WaveNotice";

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const order = (more: object): Order =>
  ({
    id: 3,
    number: "1172",
    state: "planned",
    placed_on: "2026-11-27",
    buyer: "Sunniva Rook",
    address: ["2 Weir Steps", "Dunmere"],
    postcode: "DM6 8",
    note: "",
    held_by: "",
    reason: "",
    container: "C-18",
    total: "11.51",
    postage_charged: "5.50",
    parcel_id: null,
    joined: [],
    joined_into: "",
    tracking: "",
    lines: [{ sku: "PRE", title: "Preserve", quantity: 2, unit_price: "6.80", known: true }],
    ...more,
  }) as unknown as Order;

const show = (one: Order) =>
  renderSignedIn(
    <OrderTable rows={[one]} at={0} onAt={() => undefined} onOpen={() => undefined} />,
  );

describe("where an order stands", () => {
  it("names the reason of a cancelled one and opens it again", async () => {
    const sent = answering(() => ({ json: order({}) }));
    show(order({ state: "cancelled", reason: "She moved away" }));
    expect(screen.getByText(/She moved away/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Open again" }));
    await waitFor(() => expect(sent[0]?.path).toBe("/api/orders/3/release"));
    await screen.findAllByText("Order 1172 is planned now.");
  });

  it("offers to release what somebody holds, not what lacks something", () => {
    show(order({ state: "held", held_by: "by_hand", reason: "buyer rang" }));
    expect(screen.getByRole("button", { name: "Release" })).toBeTruthy();
    cleanup();
    show(order({ state: "held", reason: "3 cartons are missing" }));
    expect(screen.queryByRole("button", { name: "Release" })).toBeNull();
  });
});

describe("planning in the background", () => {
  const wave = { running: true, done: 140, total: 500, stopping: false, failed: 0, waiting: false };
  const told = async (more: object) => {
    answering(() => ({ json: { ...wave, due: 0, ...more } }));
    renderSignedIn(<WaveNotice />);
    return (await screen.findByRole("status")).textContent;
  };

  it("says how far it is", async () => {
    expect(await told({})).toContain("Planning 140 of 500 orders");
  });

  it("says when the worker is silent, and what was left out", async () => {
    expect(await told({ waiting: true })).toContain("the worker gives no sign of life");
    cleanup();
    expect(await told({ failed: 1 })).toContain("1 left out because of an error");
  });
});
