/** How services are chosen: each rule, what it is, and why a new workshop begins with what it does. */
import { useQuery } from "@tanstack/react-query";
import { choosing } from "../../api/prices";
import { ProblemNote, Waiting } from "../../ui/parts";
import { RatesTabs } from "./RatesTabs";
import { RulesForm } from "./RulesForm";

export function ChoosingScreen() {
  const found = useQuery(choosing());
  if (found.isPending) return <Waiting what="your rules" />;
  if (found.isError)
    return (
      <div className="p-6">
        <ProblemNote error={found.error} />
      </div>
    );
  return (
    <>
      <RatesTabs />
      <RulesForm data={found.data} />
    </>
  );
}
