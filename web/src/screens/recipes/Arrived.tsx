/** How parcels packed like this arrived: so many of so many, the interval, the last months; where it breaks. */
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { recipeDamage } from "../../api/arrivals";
import type { Schemas } from "../../api/client";
import { fixed, monthWords } from "../../domain/figures";
import { Mark } from "../../ui/parts";

/** So many damaged point at something to look at. */
const MANY = 3;

export function Arrived({ id }: { id: number }) {
  const found = useQuery(recipeDamage(id));
  const run = found.data?.runs.find((one) => one.current);
  if (!found.data || !run) return null;
  if (run.counted.known === 0) return <>Never sent.</>;
  const { damaged, known, low, high } = run.counted;
  return (
    <Link className="text-action hover:underline" to={`/arrivals?recipe=${id}`}>
      {damaged >= MANY ? <Mark kind="mind" /> : null} {damaged} of {known} arrived damaged (
      {fixed(100 * Number(low), 1)} to {fixed(100 * Number(high), 1)} %){trend(found.data)}.
    </Link>
  );
}

/** The last two months in words, of every version, when something broke in them. */
function trend(damage: Schemas["RecipeDamageOut"]): string {
  const months = damage.groups.find((one) => one.group === "month")?.rows ?? [];
  const [before, last] = months.slice(-2);
  if (!before || !last || before.counted.damaged + last.counted.damaged === 0) return "";
  const said = (row: typeof last) =>
    `${row.counted.damaged} of ${row.counted.known} in ${monthWords(row.key)}`;
  return `; of every version ${said(last)}, ${said(before)}`;
}
