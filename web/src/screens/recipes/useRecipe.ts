/** A recipe being changed: the draft survives a reload, the figures follow it, keeping it makes a version. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answer, api, type Schemas } from "../../api/client";
import { recipe as recipeQuery } from "../../api/queries";
import { useSay } from "../../ui/overlays";
import type { Band, RecipeDoc } from "./rows";

interface Draft { base: number; doc: RecipeDoc; before: RecipeDoc[] }

const slot = (id: number) => `recipe-draft-${id}`;

function saved(id: number): Draft | null {
  const text = window.localStorage.getItem(slot(id));
  return text ? (JSON.parse(text) as Draft) : null;
}

/** Waits until the hand rests, so that a held key does not ask for figures at every letter. */
function useRested<T>(value: T, ms: number): T {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = window.setTimeout(() => setRested(value), ms);
    return () => window.clearTimeout(timer);
  }, [value, ms]);
  return rested;
}

export function useRecipe(data: Schemas["RecipeOut"]) {
  const client = useQueryClient();
  const say = useSay();
  const [draft, setDraft] = useState<Draft | null>(() => saved(data.id));
  const doc = draft?.doc ?? data.document;
  const keepDraft = (next: Draft | null) => {
    if (next) window.localStorage.setItem(slot(data.id), JSON.stringify(next));
    else window.localStorage.removeItem(slot(data.id));
    setDraft(next);
  };
  const rested = useRested(draft?.doc ?? null, 90);
  const preview = useQuery({
    queryKey: ["preview", data.id, data.version.number, rested],
    queryFn: () => answer(api.POST("/api/recipes/{recipe_id}/preview", { params: { path: { recipe_id: data.id } }, body: { document: rested } })),
    enabled: rested !== null,
    placeholderData: (before: Schemas["RecipePreviewOut"] | undefined) => before,
    retry: false,
    staleTime: 60_000,
  });
  const keep = useMutation({
    mutationFn: (reason: string) => answer(api.POST("/api/recipes/{recipe_id}/versions", { params: { path: { recipe_id: data.id } }, body: { base_version: draft?.base ?? data.version.number, reason, document: doc } })),
    onSuccess: (made) => {
      keepDraft(null);
      say(`Version ${made.version.number} is in force. Open orders follow it.`);
      void client.invalidateQueries({ queryKey: recipeQuery(data.id).queryKey });
      void client.invalidateQueries({ queryKey: ["versions", data.id] });
      void client.invalidateQueries({ queryKey: ["orders"] });
      void client.invalidateQueries({ queryKey: ["plan"] });
    },
  });
  return {
    doc,
    changed: draft !== null,
    behind: draft !== null && draft.base !== data.version.number,
    figures: draft && preview.data ? preview.data.figures : data.figures,
    figuresError: draft ? preview.error : null,
    setBand: (at: number, band: Band) => keepDraft({ base: draft?.base ?? data.version.number, doc: { ...doc, bands: doc.bands.map((one, index) => (index === at ? band : one)) }, before: [...(draft?.before ?? []), doc] }),
    undo: () => {
      const last = draft?.before.at(-1);
      if (!draft || !last) return;
      const before = draft.before.slice(0, -1);
      keepDraft(before.length === 0 ? null : { ...draft, doc: last, before });
    },
    drop: () => keepDraft(null),
    rebase: () => draft && keepDraft({ ...draft, base: data.version.number }),
    keep,
  };
}
