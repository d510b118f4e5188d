/** The rail: the way of a parcel with live counts; apart from it, the things a parcel is made with. */
import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useState } from "react";
import { NavLink, useLocation } from "react-router";
import { rail } from "../api/frame";
import { useHelp } from "./Helpers";
import { useSession } from "./session";

const loadMenu = () => import("./WhoMenu");
const WhoMenu = lazy(async () => ({ default: (await loadMenu()).WhoMenu }));

const STOPS = [
  { to: "/day", name: "Day", count: null, also: ["/gather", "/times", "/holds", "/prepare"] },
  { to: "/orders", name: "Orders", count: "orders", also: [] },
  { to: "/plan", name: "Plan", count: "plan", also: [] },
  { to: "/bench", name: "Bench", count: "bench", also: ["/practice"] },
  { to: "/send-off", name: "Send-off", count: "send_off", also: [] },
  { to: "/arrivals", name: "Arrivals", count: "arrivals", also: [] },
] as const;

const THINGS = [
  { to: "/recipes", name: "Recipes", also: ["/products", "/readiness", "/policies", "/fits"] },
  {
    to: "/cupboard",
    name: "Cupboard",
    also: ["/buy", "/purchases", "/count", "/asleep", "/cartons"],
  },
  { to: "/rates", name: "Rates", also: [] },
  { to: "/money", name: "Money", also: [] },
] as const;

/** Nothing but what things cost. */
const PRICED: readonly string[] = ["/rates", "/money"];

/** As many as there is room for. */
const shortCount = (count: number | undefined) =>
  count === undefined ? "" : count > 999 ? "999+" : String(count);

export function Rail() {
  const counts = useQuery(rail());
  const { pathname } = useLocation();
  const help = useHelp();
  const who = useSession();
  const begins = counts.data !== undefined && counts.data.first_parcel_left !== null;
  // There is room for these words except beside the way to the first parcel.
  const word = begins ? "max-2xl:sr-only" : "max-xl:sr-only";
  const at = STOPS.findIndex((stop) =>
    [stop.to, ...stop.also].some((path) => pathname.startsWith(path)),
  );
  return (
    <nav
      aria-label="Main"
      className="flex h-[60px] items-center gap-5 border-b max-2xl:gap-3 max-xl:gap-2 max-xl:px-3.5 border-line bg-sheet px-6"
    >
      <NavLink
        to="/day"
        className="flex items-center gap-2.5 font-head text-lead font-semibold whitespace-nowrap max-2xl:mr-1.5 max-xl:mr-0"
        aria-label="Calm Cupboard, to the day"
      >
        <img src="/static/mark.svg" alt="" className="size-6 shrink-0" />
        <span className="max-xl:hidden">Calm Cupboard</span>
      </NavLink>
      <ol className="relative flex h-full items-stretch">
        <span
          aria-hidden="true"
          className="absolute bottom-[15px] left-[5px] right-[81px] h-0.5 bg-line max-2xl:right-[73px] max-xl:right-[55px]"
        />
        {STOPS.map((stop, index) => {
          const here = index === at;
          return (
            <li key={stop.to} className="group">
              <NavLink
                to={stop.to}
                className={`relative flex h-full min-w-[92px] flex-col whitespace-nowrap pr-3 group-last:w-[92px] max-2xl:min-w-[84px] max-2xl:group-last:w-[84px] max-xl:min-w-0 max-xl:group-last:w-[66px] group-last:pr-0 max-xl:text-small justify-between pb-[11px] pt-[11px] ${here ? "text-action" : "text-ink2 hover:text-ink"}`}
              >
                <span>
                  {stop.name}{" "}
                  <b className={here ? "" : "text-ink"}>
                    {stop.count === null ? "" : shortCount(counts.data?.[stop.count])}
                  </b>
                </span>
                <span
                  aria-hidden="true"
                  className={`size-[11px] border-2 ${here ? "border-action bg-action" : "border-line2 bg-sheet"}`}
                />
              </NavLink>
            </li>
          );
        })}
      </ol>
      <div className="grow" />
      {begins ? (
        <NavLink
          to="/first-parcel"
          className={({ isActive }) =>
            `min-h-11 whitespace-nowrap py-2.5 max-xl:text-small ${isActive ? "font-semibold text-action" : "text-ink2 hover:text-ink"}`
          }
        >
          First parcel
          <b className="ml-1 text-ink max-2xl:hidden">{counts.data?.first_parcel_left} left</b>
        </NavLink>
      ) : null}
      <ul className="flex gap-5 max-2xl:gap-4 max-xl:gap-3 max-lg:gap-2 max-xl:text-small">
        {THINGS.filter((thing) => who.sees_costs || !PRICED.includes(thing.to)).map((thing) => (
          <li key={thing.to}>
            <NavLink
              to={thing.to}
              className={({ isActive }) =>
                `py-2 ${isActive || thing.also.some((path) => pathname.startsWith(path)) ? "font-semibold text-action" : "text-ink2 hover:text-ink"}`
              }
            >
              {thing.name}
            </NavLink>
          </li>
        ))}
      </ul>
      <span className="h-5 w-px bg-line" aria-hidden="true" />
      <p className="flex gap-1 text-small text-ink2">
        <button
          type="button"
          className="min-h-11 whitespace-nowrap px-1.5 hover:text-ink"
          onClick={help.find}
        >
          <span className="keycap">/</span> <span className={word}>find</span>
        </button>
        <button
          type="button"
          className="min-h-11 whitespace-nowrap px-1.5 hover:text-ink max-xl:hidden"
          onClick={help.keys}
        >
          <span className="keycap">?</span> <span className={word}>keys</span>
        </button>
      </p>
      <Who />
    </nav>
  );
}

/** Your own menu. Its code is fetched when it is first wanted. */
function Who() {
  const who = useSession();
  const [open, setOpen] = useState(false);
  const plain = (
    <button
      type="button"
      aria-haspopup="menu"
      aria-expanded={open}
      className="min-w-15 max-w-24 min-h-11 truncate rounded-part px-2 text-ink2 hover:text-ink"
      onPointerEnter={() => void loadMenu()}
      onClick={() => setOpen(true)}
    >
      {who.name}
    </button>
  );
  if (!open) return plain;
  return (
    <Suspense fallback={plain}>
      <WhoMenu />
    </Suspense>
  );
}
