/** The Plan stop: straight to the first order that can be planned, or what to do when there is none. */
import { useQuery } from "@tanstack/react-query";
import { Link, Navigate } from "react-router";
import { orders } from "../../api/orders";
import { Empty, ProblemNote, Waiting } from "../../ui/parts";

export function PlanQueue() {
  const planned = useQuery(orders("planned", "", 1));
  if (planned.isPending) return <Waiting what="the planned orders" />;
  if (planned.isError)
    return (
      <div className="p-6">
        <ProblemNote error={planned.error} />
      </div>
    );
  const first = planned.data.results[0];
  if (first) return <Navigate to={`/plan/${first.id}`} replace />;
  return (
    <Empty title="No order is waiting with a plan">
      <p>
        <Link className="text-action underline" to="/orders">
          See the orders
        </Link>
        : some may be held.
      </p>
    </Empty>
  );
}
