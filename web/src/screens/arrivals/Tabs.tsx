/** The rooms of arrivals: where it breaks, parcels, trials, claims, what carriers did. */
import { useQuery } from "@tanstack/react-query";
import { Link, useLocation, useNavigate } from "react-router";
import { arrivals, claims } from "../../api/arrivals";
import { useActions } from "../../app/keys";
import { useSession } from "../../app/session";

const TABS = [
  { to: "/arrivals", name: "Where it breaks" },
  { to: "/arrivals/parcels", name: "Parcels" },
  { to: "/arrivals/trials", name: "Trials" },
  { to: "/arrivals/claims", name: "Claims" },
  { to: "/arrivals/carriers", name: "Carriers" },
  { to: "/arrivals/learned", name: "Learned" },
] as const;

export function ArrivalsTabs() {
  const { pathname } = useLocation();
  const navigate = useNavigate();
  const who = useSession();
  const asked = useQuery(arrivals("ask", "", 1));
  const claimed = useQuery(claims(1));
  const tabs = TABS.filter((tab) => who.sees_costs || tab.to !== "/arrivals/carriers");
  useActions(
    tabs.map((tab, index) => ({
      key: String(index + 1),
      label: tab.name,
      run: () => void navigate(tab.to),
    })),
  );
  const open = claimed.data?.results.filter((one) => one.state === "open").length;
  const counts: Partial<Record<string, number | undefined>> = {
    "/arrivals/parcels": asked.data?.count,
    "/arrivals/claims": open,
  };
  return (
    <nav aria-label="Arrivals" className="flex flex-wrap gap-x-5 px-6 pt-2">
      {tabs.map((tab, index) => {
        const here = pathname === tab.to;
        return (
          <Link
            key={tab.to}
            to={tab.to}
            aria-current={here ? "page" : undefined}
            className={`inline-flex min-h-11 items-center gap-2 border-b-2 ${here ? "border-action font-semibold text-action" : "border-transparent text-ink2 hover:text-ink"}`}
          >
            <span className="keycap" aria-hidden="true">
              {index + 1}
            </span>
            {tab.name}
            {counts[tab.to] ? <b className="text-ink">{counts[tab.to]}</b> : null}
          </Link>
        );
      })}
    </nav>
  );
}
