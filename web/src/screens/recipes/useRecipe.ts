/** A recipe being changed: the draft survives a reload, the figures follow it, keeping it makes a version. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { saveVersion } from "../../api/recipes";
import { answer, api, type Schemas } from "../../api/client";
import { useRested } from "../../ui/useRested";
import { useToast } from "../../ui/useToast";
import { changed, keepIn, readDraft, redo, undo, type Draft } from "./draft";
import type { Band, RecipeDoc } from "./rows";

const slot = (id: number) => `recipe-draft-${id}`;

export function useRecipe(data: Schemas["RecipeOut"]) {
  const say = useToast();
  const [draft, setDraft] = useState<Draft | null>(() =>
    readDraft(window.localStorage.getItem(slot(data.id))),
  );
  const doc = draft?.doc ?? data.document;
  const keepDraft = (next: Draft | null) => {
    if (next) keepIn(window.localStorage, slot(data.id), next);
    else window.localStorage.removeItem(slot(data.id));
    setDraft(next);
  };
  const rested = useRested(draft?.doc ?? null, 40);
  const preview = useQuery({
    queryKey: ["preview", data.id, data.version.number, rested],
    queryFn: () =>
      answer(
        api.POST("/api/recipes/{recipe_id}/preview", {
          params: { path: { recipe_id: data.id } },
          body: { document: rested },
        }),
      ),
    enabled: rested !== null,
    placeholderData: (before: Schemas["RecipePreviewOut"] | undefined) => before,
    retry: false,
    staleTime: 60_000,
  });
  const saving = useMutation({
    ...saveVersion(data.id),
    onSuccess: (made) => {
      keepDraft(null);
      say(`Version ${made.version.number} is current. Open orders follow it.`);
    },
  });
  return {
    doc,
    changed: draft !== null && JSON.stringify(draft.doc) !== JSON.stringify(data.document),
    behind: draft !== null && draft.base !== data.version.number,
    figures: draft && preview.data ? preview.data.figures : data.figures,
    figuresError: draft ? preview.error : null,
    change: (next: RecipeDoc) => keepDraft(changed(draft, data.version.number, doc, next)),
    setBand: (at: number, band: Band) =>
      keepDraft(
        changed(draft, data.version.number, doc, {
          ...doc,
          bands: doc.bands.map((one, index) => (index === at ? band : one)),
        }),
      ),
    canUndo: (draft?.before.length ?? 0) > 0,
    canRedo: (draft?.undone.length ?? 0) > 0,
    undo: () => draft && keepDraft(undo(draft)),
    redo: () => draft && keepDraft(redo(draft)),
    drop: () => keepDraft(null),
    rebase: () => draft && keepDraft({ ...draft, base: data.version.number }),
    saving: {
      error: saving.error,
      busy: saving.isPending,
      save: (reason: string, onSuccess: () => void) =>
        saving.mutate(
          { base_version: draft?.base ?? data.version.number, reason, document: doc },
          { onSuccess },
        ),
    },
  };
}
