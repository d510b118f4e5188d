/** The rail: the way of a parcel with live counts; apart from it, the things a parcel is made with. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { DropdownMenu } from "radix-ui";
import { useState } from "react";
import { NavLink, useLocation } from "react-router";
import { answer, api } from "../api/client";
import { rail, session as sessionQuery } from "../api/queries";
import { useSession } from "./session";
import { applyTheme, savedTheme } from "./theme";

const STOPS = [
  { to: "/orders", name: "Orders", count: "orders" },
  { to: "/plan", name: "Plan", count: "plan" },
  { to: "/bench", name: "Bench", count: "bench" },
] as const;

const THINGS = [
  { to: "/recipes", name: "Recipes", also: ["/products", "/readiness", "/policies"] },
  { to: "/cupboard", name: "Cupboard", also: [] },
  { to: "/rates", name: "Rates", also: [] },
] as const;

export function Rail() {
  const counts = useQuery(rail());
  const { pathname } = useLocation();
  const at = STOPS.findIndex((stop) => pathname.startsWith(stop.to));
  return (
    <nav
      aria-label="Main"
      className="flex h-[60px] items-center gap-6 border-b border-line bg-sheet px-6"
    >
      <NavLink
        to="/orders"
        className="flex items-center gap-2.5 font-head text-lead font-semibold whitespace-nowrap"
        aria-label="Calm Cupboard, to the orders"
      >
        <img src="/static/mark.svg" alt="" className="size-6" />
        <span className="max-lg:hidden">Calm Cupboard</span>
      </NavLink>
      <ol className="relative flex h-full items-stretch">
        <span
          aria-hidden="true"
          className="absolute bottom-[15px] left-[5px] right-[62px] h-0.5 bg-line"
        />
        {STOPS.map((stop, index) => {
          const here = index === at;
          return (
            <li key={stop.to}>
              <NavLink
                to={stop.to}
                className={`relative flex h-full w-[104px] flex-col justify-between pb-[11px] pt-[11px] ${here ? "text-action" : "text-ink2 hover:text-ink"}`}
              >
                <span>
                  {stop.name}{" "}
                  <b className={here ? "" : "text-ink"}>{counts.data?.[stop.count] ?? ""}</b>
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
      <ul className="flex gap-6">
        {THINGS.map((thing) => (
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
      <p className="text-small text-ink2 max-md:hidden">
        <span className="keycap">/</span> find <span className="keycap ml-2">?</span> keys
      </p>
      <WhoMenu />
    </nav>
  );
}

function WhoMenu() {
  const who = useSession();
  const client = useQueryClient();
  const [theme, setTheme] = useState(savedTheme);
  const signOut = async () => {
    await answer(api.DELETE("/api/session"));
    client.clear();
    await client.invalidateQueries(sessionQuery());
    window.location.assign("/");
  };
  const turn = () => {
    const next = theme === "dim" ? "light" : "dim";
    applyTheme(next);
    setTheme(next);
  };
  const item =
    "block w-full cursor-pointer rounded-part px-3 py-2 text-left outline-none data-[highlighted]:bg-soft";
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="min-h-10 rounded-part px-2 text-ink2 hover:text-ink">
        {who.name}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          className="z-40 min-w-56 rounded-part border border-line2 bg-sheet p-1.5"
        >
          <DropdownMenu.Label className="px-3 py-2 text-small text-ink2">
            {who.workshop}, {who.role}
          </DropdownMenu.Label>
          <DropdownMenu.Item className={item} onSelect={turn}>
            {theme === "dim" ? "Light theme" : "Dark theme"}
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => void signOut()}>
            Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
