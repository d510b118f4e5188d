/** The scale while a parcel lies on it: a reading every third of a second, until it has settled. */
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { answer, api, type Schemas } from "../../api/client";

export type Scale = {
  state: Schemas["ScaleOut"]["state"] | "waiting";
  readingMg: number | null;
  putOnAgain: () => void;
};

export function useScale(parcelId: number, on: boolean): Scale {
  const [round, setRound] = useState(0);
  const read = useRef(-1);
  const scale = useQuery({
    queryKey: ["scale", parcelId, round],
    queryFn: () => {
      const again = read.current !== round;
      read.current = round;
      return answer(
        api.POST("/api/parcels/{parcel_id}/scale", {
          params: { path: { parcel_id: parcelId } },
          body: { again },
        }),
      );
    },
    enabled: on,
    gcTime: 0,
    staleTime: 0,
    retry: false,
    refetchInterval: (query) => (query.state.data?.state === "settled" ? 2_000 : 330),
  });
  return {
    state: !on ? "waiting" : scale.isError ? "absent" : (scale.data?.state ?? "waiting"),
    readingMg: scale.data?.reading_mg ?? null,
    putOnAgain: () => setRound((n) => n + 1),
  };
}
