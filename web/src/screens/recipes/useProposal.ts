/** A proposal that grows: the first order size at once, the others after it, until it is whole or stopped. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api, type Schemas } from "../../api/client";

type Asked = Pick<
  Schemas["ProposeIn"],
  "product_id" | "craft" | "materials" | "without" | "claims"
>;
type Proposal = Schemas["ProposalOut"];

/** Sizes worked out by each question in turn: the first answer comes at once, none takes long. */
const STAGES = [1, 3, 6, 9, 12, 15, 18, 21, 24];

export function useProposal(asked: Asked) {
  const client = useQueryClient();
  const [stopped, setStopped] = useState("");
  const [shown, setShown] = useState<{ name: string; data: Proposal }>();
  const name = JSON.stringify(asked);
  const whole = useQuery({
    queryKey: ["proposal", asked],
    retry: false,
    enabled: stopped !== name,
    queryFn: async ({ signal }) => {
      const part = ["proposal-part", asked];
      let data = client.getQueryData<Proposal>(part);
      for (const up_to of STAGES) {
        if (data?.whole) break;
        if (data && up_to <= data.sizes.length) continue;
        data = await answer(
          api.POST("/api/recipes/propose", {
            body: { ...asked, up_to, known: data?.sizes ?? [] },
            signal,
          }),
        );
        client.setQueryData(part, data);
        setShown({ name, data });
      }
      return data as Proposal;
    },
  });
  return {
    /** The last answer; until the first one of a changed question comes, that of the one before. */
    data: whole.data ?? shown?.data,
    ready: whole.data !== undefined || (shown?.name === name && !whole.isFetching),
    error: whole.error,
    working: whole.isFetching,
    stop: () => {
      setStopped(name);
      void client.cancelQueries({ queryKey: ["proposal", asked] });
    },
  };
}
