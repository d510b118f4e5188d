/** A container chosen by a person, or the choice taken back. */
import { useMutation } from "@tanstack/react-query";
import { chooseContainer } from "../../api/orders";
import { useToast } from "../../ui/useToast";

export const cardOf = (orderId: number) => `/api/orders/${orderId}/plan/card.pdf`;

export type Choose = ReturnType<typeof useChoose>;

export function useChoose(orderId: number) {
  const say = useToast();
  return useMutation({
    ...chooseContainer(orderId),
    onError: (error) => say(error.message, "stop"),
  });
}
