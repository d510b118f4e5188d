/** Planning in the background: how far it is, and a way to stop it. Lists are asked for again when it ends. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { answer, api } from "../../api/client";
import { rail, wave } from "../../api/queries";
import { useToast } from "../../ui/overlays";
import { Button } from "../../ui/parts";
import { many } from "../../domain/words";

export function WaveNotice() {
  const client = useQueryClient();
  const say = useToast();
  const now = useQuery(wave());
  const running = now.data?.running ?? false;
  const before = useRef(false);
  useEffect(() => {
    if (before.current && !running) {
      void client.invalidateQueries({ queryKey: ["orders"] });
      void client.invalidateQueries({ queryKey: rail().queryKey });
    }
    before.current = running;
  }, [client, running]);
  const stop = useMutation({
    mutationFn: () => answer(api.POST("/api/plans/wave/stop")),
    onSuccess: (data) => client.setQueryData(wave().queryKey, data),
    onError: (error) => say(error.message, "stop"),
  });
  if (!now.data || !running) return null;
  const { done, total, stopping } = now.data;
  return (
    <div className="flex items-center gap-4 border-b border-line bg-sheet px-6 py-2" role="status">
      <span className="whitespace-nowrap">
        {stopping
          ? "Stopping after the orders at hand"
          : `Planning ${done} of ${many(total, "order")}`}
      </span>
      <progress
        className="h-2 grow appearance-none [&::-webkit-progress-bar]:bg-line [&::-webkit-progress-value]:bg-action [&::-moz-progress-bar]:bg-action"
        max={Math.max(total, 1)}
        value={done}
        aria-label="Orders planned"
      />
      <Button disabled={stopping || stop.isPending} onClick={() => stop.mutate()}>
        Stop
      </Button>
    </div>
  );
}

/** Ask for every open order to be planned again. */
export function usePlanAll() {
  const client = useQueryClient();
  const say = useToast();
  return useMutation({
    mutationFn: () => answer(api.POST("/api/plans/wave")),
    onSuccess: (data) => {
      say(
        `${data.due} ${data.due === 1 ? "order is" : "orders are"} planned again in the background.`,
      );
      // The worker begins in a moment: look again until it has.
      setTimeout(() => void client.invalidateQueries({ queryKey: wave().queryKey }), 800);
      setTimeout(() => void client.invalidateQueries({ queryKey: ["orders"] }), 3000);
    },
    onError: (error) => say(error.message, "stop"),
  });
}
