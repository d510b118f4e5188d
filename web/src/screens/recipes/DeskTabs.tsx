/** The four sides of the design desk, one key each. */
import { NavLink, useNavigate } from "react-router";
import { useActions } from "../../app/keys";

const SIDES = [
  { to: "/recipes", key: "1", name: "Recipes" },
  { to: "/products", key: "2", name: "Products" },
  { to: "/readiness", key: "3", name: "Readiness" },
  { to: "/policies", key: "4", name: "Policies" },
] as const;

export function DeskTabs() {
  const navigate = useNavigate();
  useActions(
    SIDES.map((side) => ({ key: side.key, label: side.name, run: () => void navigate(side.to) })),
  );
  return (
    <nav aria-label="Design desk" className="flex gap-6 px-6 pt-3">
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
