/** A Radix dialog in our own look. */
import { Dialog } from "radix-ui";
import { useEffect, useRef, type ReactNode } from "react";

interface SheetProps {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  title: string;
  description?: string;
  children: ReactNode;
  wide?: boolean;
}

export function Sheet({
  open,
  onOpenChange,
  title,
  description,
  children,
  wide = false,
}: SheetProps) {
  const close = useRef(onOpenChange);
  useEffect(() => {
    close.current = onOpenChange;
  });
  useEffect(() => {
    if (!open) return undefined;
    // While a toast stands above the sheet, Escape would close only that; an open list keeps it for itself.
    const listen = (event: KeyboardEvent) => {
      if (event.key !== "Escape" || document.querySelector("[role=listbox]")) return;
      event.preventDefault(); // so that the screen below does not step back as well
      close.current(false);
    };
    document.addEventListener("keydown", listen, true);
    return () => document.removeEventListener("keydown", listen, true);
  }, [open]);
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-30 bg-black/35" />
        <Dialog.Content
          aria-describedby={description ? undefined : ""}
          className={`fixed left-1/2 top-[8vh] z-40 max-h-[84vh] w-[calc(100vw-2rem)] -translate-x-1/2 overflow-auto rounded-part border border-line2 bg-sheet p-6 outline-none ${wide ? "max-w-3xl" : "max-w-lg"}`}
        >
          <Dialog.Title className="text-[21px]">{title}</Dialog.Title>
          {description ? (
            <Dialog.Description className="mt-1 text-ink2">{description}</Dialog.Description>
          ) : null}
          <div className="mt-4">{children}</div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
