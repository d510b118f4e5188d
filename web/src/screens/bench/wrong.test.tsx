// @vitest-environment jsdom
import { cleanup, fireEvent, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { ProblemError, type Schemas } from "../../api/client";
import { answering } from "../../testing/server";
import { renderSignedIn } from "../../testing/signedIn";
import { HoldParcel } from "./HoldParcel";
import { LabelStep } from "./LabelStep";
import type { Bench } from "./useBench";

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const used = (supply: string, quantity: string) => ({ supply, quantity, role: "", detail: "" });
const PARCEL = {
  id: 7,
  order: { id: 3, number: "1172", buyer: "Sunniva Rook" },
  measured_mg: 9_314_000,
  offers: [],
  refusals: [],
  charge: null,
  surplus_labels: [],
  label: null,
  candidate: {
    outer_bulged: { length_um: 435_000, width_um: 345_000, height_um: 198_000 },
    quote: { service: "LARK-TWO" },
    uses: [used("C-18", "1"), used("K-CRUM", "12.5"), used("K-CRUM", "8.3")],
  },
  supplies: [
    { code: "C-18", name: "Carton 420 x 330 x 180", unit: "pieces", place: "A4" },
    { code: "K-CRUM", name: "Crumpled kraft", unit: "l", place: "B1" },
  ],
};
const parcel = (more: object = {}) => ({ ...PARCEL, ...more }) as unknown as Schemas["ParcelOut"];
const LABEL = {
  state: "bought",
  service: "LARK-TWO",
  service_name: "Larkline Two-day",
  price: "10.01",
  tracking: "LA123",
  recorded: "",
};

function bench(given: Schemas["ParcelOut"], more: Partial<Bench> = {}): Bench {
  const acts = { buy: vi.fn(), giveBack: vi.fn(), agree: vi.fn(), record: vi.fn() };
  return { parcel: given, agreed: null, busy: false, error: null, ...acts, ...more } as Bench;
}

describe("taking an order off the bench", () => {
  const open = () =>
    renderSignedIn(<HoldParcel parcel={parcel()} open onOpenChange={() => undefined} />);

  it("asks why before anything is sent", async () => {
    const sent = answering(() => ({ json: {} }));
    open();
    fireEvent.click(screen.getByRole("button", { name: "Take it off" }));
    await screen.findByText("Say why, for whoever opens the order next.");
    expect(sent).toEqual([]);
  });

  it("names each supply once with all of it, and sends what is ticked as spoiled", async () => {
    const sent = answering(() => ({ json: { id: 3, number: "1172", state: "held" } }));
    open();
    expect(screen.getByLabelText("Crumpled kraft, 20.8 l")).toBeTruthy();
    fireEvent.change(screen.getByLabelText("Why"), { target: { value: "buyer rang" } });
    fireEvent.click(screen.getByLabelText("Carton 420 x 330 x 180, 1"));
    fireEvent.click(screen.getByRole("button", { name: "Take it off" }));
    await waitFor(() =>
      expect(sent[0]).toMatchObject({
        path: "/api/parcels/7/hold",
        body: { words: "buyer rang", spoiled: ["C-18"], cancel: false },
      }),
    );
    await screen.findAllByText("Order 1172 is held and off the bench.");
  });
});

describe("a label bought at another weight", () => {
  const charge = { bought_mg: 1_078_000, now_mg: 9_314_000, listed: "10.01", asked: "16.40" };
  const show = (more: object, given: Partial<Bench> = {}) => {
    const one = bench(parcel({ label: LABEL, charge: { ...charge, ...more } }), given);
    renderSignedIn(<LabelStep bench={one} picked="LARK-TWO" onPick={() => undefined} />);
    return one;
  };

  it("names both weights and both prices, and is agreed to by a press", () => {
    const one = show({});
    expect(screen.getByText(/bought for 1.078 kg; the parcel weighs 9.314 kg/)).toBeTruthy();
    expect(screen.getByText(/asks 16.40 for that; 10.01 was paid for/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Agree" }));
    expect(one.agree).toHaveBeenCalledWith("16.40");
  });

  it("says so once it is agreed to", () => {
    show({}, { agreed: "16.40" });
    expect(screen.getByText("Agreed: 16.40 for 9.314 kg.")).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Agree" })).toBeNull();
  });

  it("cannot be agreed to beyond what the service takes", () => {
    show({ asked: null });
    expect(screen.getByText(/does not take it at that weight/)).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Agree" })).toBeNull();
  });
});

describe("a label in doubt", () => {
  const refused = new ProblemError({
    type: "about:blank",
    title: "",
    status: 409,
    code: "carrier_refused",
    detail: "The carrier refused.",
    field: null,
    faults: [],
    facts: {},
  });
  const show = (state: string, role = "owner") => {
    const one = bench(parcel({ label: { ...LABEL, state } }), { error: refused });
    renderSignedIn(<LabelStep bench={one} picked="LARK-TWO" onPick={() => undefined} />, { role });
    return one;
  };

  it("lets the owner write down what the carrier says", async () => {
    const one = show("voiding");
    fireEvent.click(screen.getByRole("button", { name: "Write down what they say" }));
    const words = screen.getByLabelText("Who said it, and when");
    fireEvent.click(screen.getByRole("button", { name: "Save" }));
    await screen.findByText("Write who said it and when.");
    fireEvent.change(words, { target: { value: "Ruta, 14:10" } });
    fireEvent.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() =>
      expect(one.record).toHaveBeenCalledWith({
        answer: "cancelled",
        tracking: "",
        words: "Ruta, 14:10",
      }),
    );
  });

  it("tells a packer whose it is to do", () => {
    show("asked", "packer");
    expect(screen.queryByRole("button", { name: "Write down what they say" })).toBeNull();
    expect(screen.getByText(/the owner can call them/)).toBeTruthy();
  });

  it("warns of one that was sold besides", () => {
    const one = bench(parcel({ label: LABEL, surplus_labels: ["LA999"] }));
    renderSignedIn(<LabelStep bench={one} picked="LARK-TWO" onPick={() => undefined} />);
    expect(screen.getByText(/Sold besides: LA999/)).toBeTruthy();
  });
});
