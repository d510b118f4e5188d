import { useRef, useState, type PointerEvent } from "react";
import type { DayPost } from "../domain/day";

/** Dragging a box: a press picks it, a move of some pixels carries it, and a drop beside a post is a wish. */
export function useDrag(
  posts: readonly DayPost[],
  x: (moment: number) => number,
  onPick: (key: string) => void,
  onDrop: (key: string, post: string) => void,
) {
  const [held, setHeld] = useState<{ key: string; shift: number; over: string | null } | null>(
    null,
  );
  const begun = useRef({ x: 0, left: 0 });
  const near = (px: number): string | null => {
    const found = posts
      .map((post) => ({ post, away: Math.abs(x(post.at_s) - px) }))
      .sort((one, other) => one.away - other.away)[0];
    return found && found.away < 48 ? found.post.key : null;
  };
  const down = (event: PointerEvent, key: string) => {
    onPick(key);
    const svg = (event.currentTarget as Element).closest("svg");
    if (!svg) return;
    begun.current = { x: event.clientX, left: svg.getBoundingClientRect().left };
    setHeld({ key, shift: 0, over: null });
    const move = (to: globalThis.PointerEvent) => {
      const shift = to.clientX - begun.current.x;
      if (Math.abs(shift) < 6) return;
      setHeld({ key, shift, over: near(to.clientX - begun.current.left) });
    };
    const up = (to: globalThis.PointerEvent) => {
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", up);
      window.removeEventListener("pointercancel", up);
      setHeld(null);
      const post = near(to.clientX - begun.current.left);
      if (to.type === "pointerup" && Math.abs(to.clientX - begun.current.x) >= 6 && post)
        onDrop(key, post);
    };
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", up);
    window.addEventListener("pointercancel", up);
  };
  return { key: held?.key ?? null, shift: held?.shift ?? 0, over: held?.over ?? null, down };
}
