/** The sides of Rates, one key each. */
import { NavLink, useNavigate } from "react-router";
import { useActions } from "../../app/keys";

const SIDES = [
  { to: "/rates", key: "1", name: "What it costs" },
  { to: "/rates/tariffs", key: "2", name: "Price lists" },
  { to: "/rates/coming", key: "3", name: "What changes" },
  { to: "/rates/each", key: "4", name: "Cost of each" },
  { to: "/rates/choosing", key: "5", name: "How services are chosen" },
] as const;

export function RatesTabs() {
  const navigate = useNavigate();
  useActions(
    SIDES.map((side) => ({ key: side.key, label: side.name, run: () => void navigate(side.to) })),
  );
  return (
    <nav aria-label="Rates" className="flex gap-6 px-6 pt-3">
      {SIDES.map((side) => (
        <NavLink
          key={side.to}
          to={side.to}
          end
          className={({ isActive }) =>
            `border-b-2 pb-1 ${isActive ? "border-action font-semibold text-action" : "border-transparent text-ink2 hover:text-ink"}`
          }
        >
          <span className="keycap mr-1.5" aria-hidden="true">
            {side.key}
          </span>
          {side.name}
        </NavLink>
      ))}
    </nav>
  );
}
