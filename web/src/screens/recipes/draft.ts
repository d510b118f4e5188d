/** A draft of a recipe: what was, what is, what was undone. Undo and redo have no end; a reload keeps it. No DOM. */
import type { RecipeDoc } from "./rows";

export interface Draft {
  base: number;
  doc: RecipeDoc;
  before: RecipeDoc[];
  undone: RecipeDoc[];
}

/** A change: the way back grows by what was. Without a draft yet, from the version current. */
export function changed(draft: Draft | null, base: number, was: RecipeDoc, doc: RecipeDoc): Draft {
  return { base: draft?.base ?? base, doc, before: [...(draft?.before ?? []), was], undone: [] };
}

export function undo(draft: Draft): Draft {
  const last = draft.before.at(-1);
  return last
    ? {
        ...draft,
        doc: last,
        before: draft.before.slice(0, -1),
        undone: [...draft.undone, draft.doc],
      }
    : draft;
}

export function redo(draft: Draft): Draft {
  const next = draft.undone.at(-1);
  return next
    ? {
        ...draft,
        doc: next,
        before: [...draft.before, draft.doc],
        undone: draft.undone.slice(0, -1),
      }
    : draft;
}

/** Read a kept draft; one of an older build lacks what was undone. */
export function readDraft(text: string | null): Draft | null {
  if (!text) return null;
  const kept = JSON.parse(text) as Partial<Draft>;
  return kept.doc && typeof kept.base === "number"
    ? { base: kept.base, doc: kept.doc, before: kept.before ?? [], undone: kept.undone ?? [] }
    : null;
}

/** What is put into the device's store: when it is full, the oldest steps back are given up there first, never the draft. */
export function keepIn(store: Pick<Storage, "setItem">, slot: string, draft: Draft): void {
  for (let steps = draft.before.length; ; steps = Math.floor(steps / 2)) {
    try {
      store.setItem(
        slot,
        JSON.stringify({
          ...draft,
          before: draft.before.slice(draft.before.length - steps),
          undone: draft.undone.slice(-steps),
        }),
      );
      return;
    } catch (error) {
      if (steps === 0) throw error;
    }
  }
}
