/** A posting to the ledger: pressed twice, or its answer lost, it posts once. */
import { useMutation } from "@tanstack/react-query";
import { postStock } from "../../api/cupboard";
import { useToast } from "../../ui/useToast";
import { useRequestKey } from "../../ui/useRequestKey";
import type { Supply } from "./supply";

export function usePosting(done: (now: Supply) => string, onDone: () => void) {
  const say = useToast();
  const [key, renewKey] = useRequestKey();
  const post = useMutation({
    ...postStock(),
    onSuccess: (now) => {
      renewKey();
      say(done(now));
      onDone();
    },
  });
  return {
    error: post.error,
    isPending: post.isPending,
    send: (job: (key: string) => Promise<Supply>) => {
      if (!post.isPending) post.mutate(() => job(key));
    },
  };
}
