// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { answering, around } from "../../testing/server";
import { Figures } from "./Figures";
import type { Setting } from "./values";

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const row = (more: Partial<Setting>): Setting => ({
  name: "lift_mg",
  group: "strength",
  kind: "weight",
  title: "Heavy from",
  value: "10000000",
  default: "10000000",
  least: "1000000",
  most: "40000000",
  whole: true,
  rule: "16.3",
  reason: "One pair of hands.",
  where: "marks on parcels",
  ...more,
});
const ROWS = [
  row({}),
  row({
    name: "wage_per_hour",
    group: "work",
    kind: "money",
    title: "An hour of work",
    value: "18",
    default: "15",
    least: "0",
    most: "500",
  }),
];
const EFFECT = {
  orders: 9,
  left_out: 0,
  changed: 2,
  before: "80.00",
  after: "81.50",
  no_longer: 0,
  now_planned: 0,
};

const screenOf = async (owner = true, imperial = false) => {
  const sent = answering((one) => {
    if (one.path.endsWith("/effect")) return { json: EFFECT };
    if (one.path.endsWith("/history"))
      return { json: { count: 0, page: 1, pages: 1, results: [] } };
    return { json: { settings: ROWS } };
  });
  render(<Figures tabs={null} owner={owner} />, {
    wrapper: around("/", imperial ? { unit_system: "imperial" } : {}),
  });
  await screen.findByLabelText("Heavy from");
  return sent;
};
const field = (label: string) => screen.getByLabelText<HTMLInputElement>(label);
const type = (label: string, text: string) =>
  fireEvent.change(field(label), { target: { value: text } });
const save = () => screen.getByRole<HTMLButtonElement>("button", { name: /Save settings/ });
const saved = (sent: { method: string; path: string; body: unknown }[]) =>
  sent.filter((one) => one.method !== "GET" && !one.path.endsWith("/effect"));

describe("figures of judgement", () => {
  it("stand in the workshop's units, and those of its own say what is ordinary", async () => {
    await screenOf();
    expect(field("Heavy from").value).toBe("10000");
    screen.getByText(/Ordinarily 15 EUR/);
    screen.getByText("1 figure of your own");
    cleanup();
    await screenOf(true, true);
    expect(Number(field("Heavy from").value)).toBeCloseTo(352.74, 1);
  });

  it("tries what was typed on open orders before anything is saved", async () => {
    const sent = await screenOf();
    type("Heavy from", "8 kg");
    await screen.findByText("2 change", undefined, { timeout: 3000 });
    screen.getByText("+1.50");
    expect(sent.find((one) => one.path.endsWith("/effect"))?.body).toEqual({
      values: { lift_mg: "8000000" },
    });
    expect(saved(sent)).toEqual([]);
  });

  it("saves only what is other than before", async () => {
    const sent = await screenOf();
    type("Heavy from", "8 kg");
    type("An hour of work", "18.00");
    fireEvent.click(save());
    await waitFor(() => expect(saved(sent)).toHaveLength(1));
    expect(saved(sent)[0]?.body).toEqual({ values: { lift_mg: "8000000" } });
  });

  it("keeps back what is out of its limits and says them in the workshop's units", async () => {
    const sent = await screenOf();
    type("Heavy from", "90 kg");
    screen.getByText(/From 1000 to 40000 g/);
    expect(save().disabled).toBe(true);
    type("Heavy from", "heavy");
    expect(field("Heavy from").getAttribute("aria-invalid")).toBe("true");
    expect(saved(sent)).toEqual([]);
  });

  it("goes back to the ordinary figure, and undo forgets all that was typed", async () => {
    await screenOf();
    fireEvent.click(screen.getByRole("button", { name: "Back to 15" }));
    expect(field("An hour of work").value).toBe("15");
    fireEvent.click(screen.getByRole("button", { name: "Undo changes" }));
    expect(field("An hour of work").value).toBe("18");
    expect(save().disabled).toBe(true);
  });

  it("are read only for a packer", async () => {
    await screenOf(false);
    expect(field("Heavy from").disabled).toBe(true);
    expect(screen.queryByRole("button", { name: "Back to 15" })).toBeNull();
  });
});
