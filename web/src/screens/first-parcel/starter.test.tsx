// @vitest-environment jsdom
import { cleanup, fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { answering } from "../../testing/server";
import { renderSignedIn } from "../../testing/signedIn";
import { actionOf, nextOf, pathOf, type Part } from "./parts";
import { Starter } from "./Starter";

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const TISSUE = {
  code: "W-TISSUE",
  name: "Tissue paper",
  shelf: "B",
  slot: 1,
  reorder_at: null,
  on_hand: "0",
  unit_cost: "0.11",
  facts: { kind: "wrap" },
  estimated: ["mg_per_m2", "unit_cost"],
};
const shelf = () =>
  answering(({ method }) => ({
    json: method === "GET" ? { supplies: [{ supply: TISSUE, there: false }] } : { added: 1 },
  }));
const tick = async () => fireEvent.click(await screen.findByRole("checkbox", { name: /^Tissue/ }));
const add = () => fireEvent.click(screen.getByRole("button", { name: /^Add the 1 ticked/ }));
const sentItem = (sent: ReturnType<typeof answering>) =>
  (sent.find((one) => one.method === "POST")?.body as { supplies: (typeof TISSUE)[] }).supplies[0];

describe("the shelf to start from", () => {
  it("adds what is ticked with an ordinary amount, its cost still an estimate", async () => {
    const sent = shelf();
    renderSignedIn(<Starter />);
    await tick();
    add();
    await waitFor(() => expect(sent.some((one) => one.method === "POST")).toBe(true));
    expect(sentItem(sent)).toMatchObject({
      on_hand: "50",
      unit_cost: "0.11",
      estimated: ["mg_per_m2", "unit_cost"],
    });
  });

  it("reads amount and cost in the workshop's units: square feet", async () => {
    const sent = shelf();
    renderSignedIn(<Starter />, { unit_system: "imperial" });
    await tick();
    fireEvent.change(screen.getByLabelText("How many of Tissue paper"), {
      target: { value: "100" },
    });
    fireEvent.change(screen.getByLabelText("Cost of Tissue paper"), { target: { value: "0.02" } });
    add();
    await waitFor(() => expect(sent.some((one) => one.method === "POST")).toBe(true));
    const item = sentItem(sent);
    expect(Number(item?.on_hand)).toBeCloseTo(9.2903, 3);
    expect(Number(item?.unit_cost)).toBeCloseTo(0.21528, 4);
    expect(item?.estimated).toEqual(["mg_per_m2"]);
  });
});

describe("the parts of a first parcel", () => {
  const part = (code: Part["code"], more: Partial<Part> = {}): Part => ({
    code,
    there: false,
    name: "",
    id: null,
    place: "",
    lacks: "",
    ...more,
  });

  it("are done from the goods outwards, the price list before the recipe", () => {
    expect(nextOf([part("recipe"), part("price_list"), part("product")])?.code).toBe("product");
    expect(nextOf([part("recipe"), part("price_list")])?.code).toBe("price_list");
    expect(nextOf([part("recipe", { there: true })])).toBeUndefined();
  });

  it("lead to the screen each is done on", () => {
    expect(pathOf(part("tape"))).toBe("/cupboard?new=tape");
    expect(pathOf(part("wrap", { id: 4, lacks: "stock" }))).toBe("/cupboard?supply=4");
    expect(pathOf(part("recipe", { id: 7 }))).toBe("/recipes/new?product=7");
    expect(pathOf(part("order", { id: 9, lacks: "held" }))).toBe("/plan/9");
    expect(actionOf(part("wrap", { name: "Tissue", lacks: "stock" }))).toBe("Count Tissue");
    expect(actionOf(part("order", { lacks: "held" }))).toBe("See why the order is held");
  });
});
