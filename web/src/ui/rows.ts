/** Rows of a table that open on a click anywhere: the click is handed to the first link or button of the row. */
import type { MouseEvent } from "react";

export function openFirst(event: MouseEvent<HTMLTableRowElement>): void {
  const at = event.target as HTMLElement;
  // What can be pressed itself, and text that is being marked, keep the click.
  if (at.closest("a, button, input, label, select, summary")) return;
  if (window.getSelection()?.toString()) return;
  event.currentTarget.querySelector<HTMLElement>("a[href], button")?.click();
}

/** Spread onto a table row. */
export const OPENS = { onClick: openFirst, "data-opens": "" };
