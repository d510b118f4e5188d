/** For tests of parts: somebody signed in, with keys and messages round them. */
import { render } from "@testing-library/react";
import type { ReactElement } from "react";
import { KeyProvider } from "../app/keys";
import { SessionProvider, type Session } from "../app/session";
import { SayProvider } from "../ui/useToast";
import { around } from "./server";

const SOMEBODY: Session = {
  name: "Maren",
  role: "owner",
  must_change: false,
  sees_costs: true,
  workshop: "Hollin Row",
  currency: "Cr",
  money_digits: 2,
  unit_system: "metric",
  country: "ALM",
  postcode: "DM1 4",
};

export function renderSignedIn(part: ReactElement, who: Partial<Session> = {}, address = "/") {
  const Around = around(address);
  return render(
    <Around>
      <SessionProvider session={{ ...SOMEBODY, ...who }}>
        <SayProvider>
          <KeyProvider>{part}</KeyProvider>
        </SayProvider>
      </SessionProvider>
    </Around>,
  );
}
