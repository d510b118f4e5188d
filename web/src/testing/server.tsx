/** For tests of hooks: a server that answers what a test says and writes down what it was sent. */
import { QueryClientProvider } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { MemoryRouter } from "react-router";
import { vi } from "vitest";
import { makeQueryClient } from "../app/queryClient";
import { SessionProvider, type Session } from "../app/session";

export const SESSION: Session = {
  name: "Maren",
  role: "owner",
  must_change: false,
  workshop: "Hollin Row",
  currency: "EUR",
  money_digits: 2,
  unit_system: "metric",
  country: "HV",
  postcode: "4100",
  sees_costs: true,
};

export interface Sent {
  method: string;
  path: string;
  body: unknown;
}

type Answer = (sent: Sent) => { status?: number; json?: unknown } | Promise<never>;

/** Return what was sent, in order. An answer that is a rejected promise is a connection that is gone. */
export function answering(answer: Answer): Sent[] {
  const sent: Sent[] = [];
  vi.stubGlobal("fetch", async (request: Request) => {
    const text = await request.text();
    const one: Sent = {
      method: request.method,
      path: new URL(request.url).pathname,
      body: text ? JSON.parse(text) : null,
    };
    sent.push(one);
    const given = await answer(one);
    return new Response(JSON.stringify(given.json ?? {}), {
      status: given.status ?? 200,
      headers: { "content-type": "application/json" },
    });
  });
  return sent;
}

/** What hooks and screens stand in: who is signed in, queries and an address. Each test gets its own. */
export function around(address = "/", session: Partial<Session> = {}) {
  const client = makeQueryClient();
  return function Around({ children }: { children: ReactNode }) {
    return (
      <QueryClientProvider client={client}>
        <MemoryRouter initialEntries={[address]}>
          <SessionProvider session={{ ...SESSION, ...session }}>{children}</SessionProvider>
        </MemoryRouter>
      </QueryClientProvider>
    );
  };
}
