/** Planning in the background: how far it is, and a way to stop it. Lists are asked for again when it ends. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { planAll, stopWave } from "../../api/orders";
import { rail, wave } from "../../api/frame";
import { useToast } from "../../ui/useToast";
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
    ...stopWave(),
    onError: (error) => say(error.message, "stop"),
  });
  if (!now.data || !running) return null;
  const { done, total, stopping, failed, waiting } = now.data;
  return (
    <div className="flex items-center gap-4 border-b border-line bg-sheet px-6 py-2" role="status">
      <span className="whitespace-nowrap">
        {waiting
          ? `Planned ${done} of ${many(total, "order")}; the worker gives no sign of life and is waited for`
          : stopping
            ? "Stopping after the orders at hand"
            : `Planning ${done} of ${many(total, "order")}`}
        {failed > 0 ? `, ${failed} left out because of an error (see the log)` : ""}
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
  const say = useToast();
  return useMutation({
    ...planAll(),
    onSuccess: (data) => {
      say(
        `${data.due} ${data.due === 1 ? "order is" : "orders are"} planned again in the background.`,
      );
    },
    onError: (error) => say(error.message, "stop"),
  });
}
