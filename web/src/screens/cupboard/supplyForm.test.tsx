// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { answering, around, type Sent } from "../../testing/server";
import { RetireSheet } from "./RetireSheet";
import type { Supply } from "./supply";
import { SupplyForm } from "./SupplyForm";

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const CARTON: Supply = {
  id: 7,
  code: "C-14",
  name: "Carton 320 x 230 x 170 mm",
  kind: "carton",
  shelf: "A",
  slot: 3,
  unit: "pieces",
  on_hand: "40",
  reserved: "6",
  free: "34",
  expired: "0",
  good_until: null,
  average_cost: "1.05",
  reorder_at: "20",
  facts: {
    kind: "carton",
    material: "card",
    inner: { length_um: 320_000, width_um: 230_000, height_um: 170_000 },
    outer: null,
    tare_mg: 260_000,
    max_load_mg: 9_000_000,
    board: "single",
    cut: null,
    strength: null,
    telescope: null,
    one_off: false,
    closes: null,
    full_strength_minutes: 0,
    weak_above_percent: null,
    old_marks: false,
  },
  estimated: ["tare_mg"],
  retired: false,
};

const type = (label: string | RegExp, text: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value: text } });
const press = (name: string) => fireEvent.click(screen.getByRole("button", { name }));
const saves = (sent: Sent[]) => sent.filter((one) => !one.path.endsWith("/estimate"));
const server = () =>
  answering((sent) =>
    sent.path.endsWith("/estimate")
      ? { json: { tare_mg: 245_000, max_load_mg: 9_000_000 } }
      : { json: CARTON },
  );

const form = (given: { supply?: Supply | null; copy?: boolean; imperial?: boolean } = {}) => {
  const onSaved = vi.fn();
  render(
    <SupplyForm
      kind="carton"
      supply={given.supply ?? null}
      copy={given.copy ?? false}
      all={[CARTON]}
      onKind={vi.fn()}
      onClose={vi.fn()}
      onSaved={onSaved}
    />,
    { wrapper: around("/", given.imperial ? { unit_system: "imperial" } : {}) },
  );
  return onSaved;
};

describe("a new carton by hand", () => {
  it("is sent only when its size is known, and says at the fields what is missing", async () => {
    const sent = server();
    form();
    type("Length inside", "300");
    press("Save");
    await waitFor(() => expect(screen.getAllByText(/needed|A length/i).length).toBeGreaterThan(0));
    expect(saves(sent)).toEqual([]);
  });

  it("takes its name from its size, the next place of its shelf, and its weight from the estimate", async () => {
    const sent = server();
    const onSaved = form();
    type("Length inside", "300");
    type("Width inside", "200");
    type("Height inside", "15 cm");
    await screen.findByText(/Estimated 245 g/);
    press("Save");
    await waitFor(() => expect(onSaved).toHaveBeenCalled());
    expect(saves(sent)[0]?.body).toMatchObject({
      supply: {
        shelf: "A",
        slot: 4,
        on_hand: "0",
        facts: {
          inner: { length_um: 300_000, width_um: 200_000, height_um: 150_000 },
          tare_mg: 245_000,
        },
        estimated: expect.arrayContaining(["tare_mg", "max_load_mg"]) as string[],
      },
    });
  });

  it("reads inches where the workshop measures in inches", async () => {
    const sent = server();
    form({ imperial: true });
    type("Length inside", "12 1/2");
    type("Width inside", "9");
    type("Height inside", "6.5");
    await screen.findByText(/Estimated 8\.6\d* oz/);
    press("Save");
    await waitFor(() => expect(saves(sent)).toHaveLength(1));
    expect(saves(sent)[0]?.body).toMatchObject({
      supply: { facts: { inner: { length_um: 317_500, width_um: 228_600, height_um: 165_100 } } },
    });
  });

  it("does not take a place that is none", async () => {
    const sent = server();
    form({ supply: CARTON });
    type("Place, such as A3", "behind the door");
    press("Save");
    await screen.findByText("A shelf letter and a number, such as A3.");
    expect(saves(sent)).toEqual([]);
  });
});

describe("a carton that is there", () => {
  it("changed keeps its code, and nothing is added to what is on hand", async () => {
    const sent = server();
    form({ supply: CARTON });
    expect(screen.getByLabelText<HTMLInputElement>("Code").disabled).toBe(true);
    expect(screen.queryByLabelText("On the shelf now")).toBeNull();
    type("Weight empty", "251 g");
    press("Save");
    await waitFor(() => expect(saves(sent)).toHaveLength(1));
    expect(saves(sent)[0]).toMatchObject({
      method: "PUT",
      path: "/api/supplies/7",
      body: { supply: { code: "C-14", on_hand: "0", facts: { tare_mg: 251_000 } } },
    });
  });

  it("copied is another with a place and a code of its own", async () => {
    const sent = server();
    form({ supply: CARTON, copy: true });
    press("Save");
    await waitFor(() => expect(saves(sent)).toHaveLength(1));
    const body = saves(sent)[0]?.body as { supply: { code: string; slot: number } };
    expect(saves(sent)[0]?.method).toBe("POST");
    expect(body.supply.code).not.toBe("C-14");
    expect(body.supply.slot).toBe(4);
  });

  it("says the server's word about its code at the code", async () => {
    answering((sent) =>
      sent.path.endsWith("/estimate")
        ? { json: { tare_mg: 245_000, max_load_mg: 9_000_000 } }
        : {
            status: 409,
            json: {
              status: 409,
              code: "exists",
              title: "",
              detail: "C-20 is there already.",
              field: "code",
              faults: [],
              facts: {},
            },
          },
    );
    form({ supply: CARTON, copy: true });
    type("Code", "C-20");
    press("Save");
    await waitFor(() =>
      expect(screen.getAllByText(/C-20 is there already/).length).toBeGreaterThan(0),
    );
    expect(screen.getByLabelText("Code").getAttribute("aria-invalid")).toBe("true");
  });
});

describe("taking a carton out of use", () => {
  const uses = (more: object) => ({
    recipes: [{ id: 1, name: "Jars" }],
    recipe_count: 1,
    orders: [{ id: 5, name: "1174, A. Fenn" }],
    order_count: 1,
    on_hand: "40",
    label: false,
    replacements: [{ id: 9, name: "C-16 Carton C-16" }],
    ...more,
  });
  const sheet = (more: object = {}) => {
    const sent = answering((one) =>
      one.method === "GET" ? { json: uses(more) } : { json: { id: 7, name: "C-14" } },
    );
    render(<RetireSheet supply={CARTON} onClose={vi.fn()} />, { wrapper: around() });
    return sent;
  };
  const button = () => screen.findByRole<HTMLButtonElement>("button", { name: "Retire it" });

  it("names who uses it, what stays, and puts the first replacement in its place", async () => {
    const sent = sheet();
    fireEvent.click(await button());
    screen.getByText(/What is on hand, 40, stays on the shelf/);
    screen.getByText(/1 open order is planned again: 1174, A. Fenn/);
    await waitFor(() =>
      expect(sent.find((one) => one.method === "POST")?.body).toEqual({ replace_by: 9 }),
    );
  });

  it("asks for no replacement where no recipe uses it", async () => {
    const sent = sheet({ recipes: [], recipe_count: 0, orders: [], order_count: 0 });
    fireEvent.click(await button());
    screen.getByText("No recipe uses it.");
    await waitFor(() =>
      expect(sent.find((one) => one.method === "POST")?.body).toEqual({ replace_by: null }),
    );
  });

  it("cannot be done to the label of every parcel, nor where nothing can take its place", async () => {
    sheet({ label: true });
    expect((await button()).disabled).toBe(true);
    cleanup();
    sheet({ replacements: [] });
    expect((await button()).disabled).toBe(true);
  });
});
