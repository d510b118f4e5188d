// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { answering, around } from "../../testing/server";
import { PasswordForm } from "./PasswordForm";
import { People } from "./People";
import { Places } from "./Places";

afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const type = (label: string, text: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value: text } });
const send = () => fireEvent.click(screen.getByRole("button", { name: "Change password" }));

describe("changing the password", () => {
  it("sends nothing while the two new ones differ", async () => {
    const sent = answering(() => ({ json: {} }));
    render(<PasswordForm />, { wrapper: around() });
    type("Password now", "a-long-password");
    type("New password", "velvet-Harbour-39");
    type("New password again", "velvet-Harbour-93");
    send();
    await screen.findByText("The two are not the same.");
    expect(sent).toEqual([]);
  });

  it("puts the server's rule at the field it is about", async () => {
    answering(() => ({
      status: 422,
      json: {
        status: 422,
        code: "weak_password",
        title: "",
        detail: "This password is too common.",
        field: "new",
        faults: [],
        facts: {},
      },
    }));
    render(<PasswordForm />, { wrapper: around() });
    type("Password now", "a-long-password");
    type("New password", "password1234");
    type("New password again", "password1234");
    send();
    await screen.findByText("This password is too common.");
  });

  it("says that it is done and forgets what was typed", async () => {
    const sent = answering(() => ({ json: { name: "Maren" } }));
    render(<PasswordForm />, { wrapper: around() });
    type("Password now", "a-long-password");
    type("New password", "velvet-Harbour-39");
    type("New password again", "velvet-Harbour-39");
    send();
    await screen.findByText("Changed. Every other place was signed out.");
    expect(sent[0]).toMatchObject({
      path: "/api/session/password",
      body: { current: "a-long-password", new: "velvet-Harbour-39" },
    });
    expect(screen.getByLabelText<HTMLInputElement>("New password").value).toBe("");
  });
});

const page = (results: object[]) => ({
  json: { count: results.length, page: 1, pages: 1, results },
});

describe("where one is signed in", () => {
  const at = "2026-11-29T10:00:00Z";
  const places = [
    {
      id: 1,
      agent: "Mozilla/5.0 (X11; Linux x86_64) Any/1.0",
      began_at: at,
      seen_at: at,
      here: true,
    },
    { id: 2, agent: "Bench tablet", began_at: at, seen_at: at, here: false },
  ];

  it("names each by its machine and signs out only the others", async () => {
    const sent = answering((one) =>
      one.method === "DELETE"
        ? { status: 200 }
        : page(sent.length > 1 ? places.slice(0, 1) : places),
    );
    render(<Places />, { wrapper: around() });
    await screen.findByText("Browser on X11, Linux x86_64");
    expect(screen.getAllByRole("button", { name: "Sign out" })).toHaveLength(1);
    fireEvent.click(screen.getByRole("button", { name: "Sign out" }));
    await waitFor(() => expect(sent.map((one) => one.path)).toContain("/api/session/places/2"));
    await waitFor(() => expect(screen.queryByText("Bench tablet")).toBeNull());
  });
});

describe("the people of the workshop", () => {
  const person = { places: 0, active: true, must_change: false, me: false };
  const people = [
    { ...person, id: 1, name: "Maren", username: "maren", role: "owner", places: 2, me: true },
    { ...person, id: 2, name: "Oswin", username: "oswin", role: "packer" },
  ];

  it("shows a one-time password once, for another and never for oneself", async () => {
    answering((one) =>
      one.method === "POST"
        ? { json: { password: "r7kd-w2mp-h9tx", until: "2026-11-30T10:00:00Z" } }
        : page(people),
    );
    render(<People />, { wrapper: around() });
    await screen.findByText("at 2 places");
    const buttons = screen.getAllByRole("button", { name: "Give a one-time password" });
    expect(buttons).toHaveLength(1);
    fireEvent.click(buttons[0]!);
    await screen.findByText("r7kd-w2mp-h9tx");
  });
});
