/** A product copied under another sku, or taken off the lists. */
import { useMutation } from "@tanstack/react-query";
import type { Schemas } from "../../api/client";
import { retireProduct } from "../../api/recipes";
import { useActions } from "../../app/keys";
import { useAddress } from "../../ui/list/useList";
import { useToast } from "../../ui/useToast";

export function CopyRetire({
  product,
  onGone,
}: {
  product: Schemas["ProductOut"];
  onGone: () => void;
}) {
  const say = useToast();
  const [, set] = useAddress();
  const retire = useMutation({
    ...retireProduct(),
    onSuccess: () => {
      say(`${product.name} is retired. Orders that hold it are packed as before.`);
      onGone();
    },
    onError: (error) => say(error.message, "stop"),
  });
  const copy = () => set({ new: "1", copy: String(product.id), product: null });
  const away = () => retire.mutate({ id: product.id, retired: true });
  useActions([
    { key: "d", label: "Copy the product", run: copy },
    { key: "x", label: "Retire the product", run: away },
  ]);
  return (
    <span className="ml-auto flex gap-4 text-small">
      <button type="button" className="min-h-10 text-action underline" onClick={copy}>
        Copy
      </button>
      <button
        type="button"
        className="min-h-10 text-action underline"
        disabled={retire.isPending}
        onClick={away}
      >
        Retire
      </button>
    </span>
  );
}
