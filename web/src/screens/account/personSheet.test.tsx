// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { answering, around } from "../../testing/server";
import { PersonSheet } from "./PersonSheet";

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const MEMBER = { id: 4, name: "Oswin", username: "oswin", role: "packer", active: true } as never;
const type = (label: string, text: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value: text } });

const sheet = (member: typeof MEMBER | null, answer: Parameters<typeof answering>[0]) => {
  const sent = answering(answer);
  const [onClose, onGiven] = [vi.fn(), vi.fn()];
  render(<PersonSheet member={member} onClose={onClose} onGiven={onGiven} />, {
    wrapper: around(),
  });
  return { sent, onClose, onGiven };
};

describe("a person", () => {
  it("added gets a one-time password that is handed on with their name", async () => {
    const { sent, onClose, onGiven } = sheet(null, () => ({
      status: 201,
      json: { username: "pim", password: "amber-latch-40" },
    }));
    type("Name", "Pim");
    type("Signs in as", "pim");
    fireEvent.click(screen.getByRole("button", { name: "Add" }));
    await waitFor(() => expect(onClose).toHaveBeenCalled());
    expect(sent[0]?.body).toEqual({ name: "Pim", username: "pim", role: "packer" });
    expect(onGiven).toHaveBeenCalledWith(
      expect.objectContaining({ name: "Pim", password: "amber-latch-40" }),
    );
  });

  it("with a space in the name they sign in with is not sent", async () => {
    const { sent } = sheet(null, () => ({}));
    type("Name", "Pim");
    type("Signs in as", "pim b");
    fireEvent.click(screen.getByRole("button", { name: "Add" }));
    await screen.findByText("At least 2 letters or digits, no spaces.");
    expect(sent).toEqual([]);
  });

  it("changed keeps the name they sign in with; a refusal leaves the sheet open", async () => {
    const { sent, onClose } = sheet(MEMBER, () => ({
      status: 409,
      json: {
        status: 409,
        code: "last_owner",
        title: "",
        detail: "A workshop needs an owner who may sign in.",
        field: null,
        faults: [],
        facts: {},
      },
    }));
    expect(screen.getByLabelText<HTMLInputElement>("Signs in as").disabled).toBe(true);
    type("Name", "Oswin Hale");
    fireEvent.click(screen.getByLabelText("May sign in"));
    fireEvent.click(screen.getByRole("button", { name: "Save" }));
    await screen.findByText(/A workshop needs an owner/);
    expect(sent[0]).toMatchObject({
      path: "/api/members/4",
      body: { name: "Oswin Hale", role: "packer", active: false },
    });
    expect(onClose).not.toHaveBeenCalled();
  });
});
