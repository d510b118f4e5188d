/** The way from a change, where it is made, to what it would have done to our own orders. */
import { Link } from "react-router";
import { useSession } from "../app/session";

interface Props {
  /** As the address of What if takes it: kind, and what it is about. */
  change: Record<string, string | number>;
  children: string;
}

export function TryOnOrders({ change, children }: Props) {
  const who = useSession();
  if (who.role !== "owner") return null;
  const asked = new URLSearchParams(
    Object.entries(change).map(([key, value]) => [key, String(value)]),
  );
  return (
    <Link
      className="inline-flex min-h-9 items-center text-small text-action underline"
      to={`/money/what-if?${asked.toString()}`}
    >
      {children}
    </Link>
  );
}
