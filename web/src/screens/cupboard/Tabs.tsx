/** The rooms of the cupboard: what stands there, what to buy, what is on its way, counting, what nobody needs. */
import { useQuery } from "@tanstack/react-query";
import { useLocation, useNavigate } from "react-router";
import { Link } from "react-router";
import { covers } from "../../api/buying";
import { useActions } from "../../app/keys";

const TABS = [
  { to: "/cupboard", name: "Shelves" },
  { to: "/buy", name: "To buy" },
  { to: "/purchases", name: "Ordered" },
  { to: "/count", name: "Count" },
  { to: "/asleep", name: "Money asleep" },
  { to: "/cartons", name: "Which cartons" },
] as const;

export function CupboardTabs() {
  const { pathname } = useLocation();
  const navigate = useNavigate();
  const cover = useQuery(covers());
  useActions(
    TABS.map((tab, index) => ({
      key: String(index + 1),
      label: tab.name,
      run: () => void navigate(tab.to),
    })),
  );
  const counts: Partial<Record<string, number>> = cover.data
    ? { "/buy": cover.data.to_buy, "/purchases": cover.data.orders_on_the_way }
    : {};
  return (
    <nav aria-label="Cupboard" className="flex flex-wrap gap-x-5 px-6 pt-2">
      {TABS.map((tab, index) => {
        const here = pathname.startsWith(tab.to);
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
