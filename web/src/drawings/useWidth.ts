/** How large a drawing is on the page, in px: a drawing made for just that size keeps the size of its text. */
import { useLayoutEffect, useRef, useState, type RefObject } from "react";

interface Limits {
  least: number;
  most: number;
}

const within = (given: number, { least, most }: Limits) =>
  Math.round(Math.min(Math.max(given, least), most));

/** Return the size to draw for: what the page gives, within limits; the largest until it is known. */
export function useSize<Element extends HTMLElement>(
  wide: Limits,
  high: Limits,
): [RefObject<Element | null>, number, number] {
  const box = useRef<Element>(null);
  const [size, setSize] = useState([wide.most, high.most] as const);
  const limits = useRef([wide, high] as const);
  useLayoutEffect(() => {
    const element = box.current;
    if (!element) return undefined;
    const measure = (width: number, height: number) => {
      if (width > 0) setSize([within(width, limits.current[0]), within(height, limits.current[1])]);
    };
    measure(element.clientWidth, element.clientHeight);
    const watch = new ResizeObserver(([entry]) =>
      measure(entry?.contentRect.width ?? 0, entry?.contentRect.height ?? 0),
    );
    watch.observe(element);
    return () => watch.disconnect();
  }, []);
  return [box, ...size];
}

/** Return the width to draw for, of a drawing whose height follows from what it shows. */
export function useWidth<Element extends HTMLElement>(
  least: number,
  most: number,
): [RefObject<Element | null>, number] {
  const [box, width] = useSize<Element>({ least, most }, { least: 0, most: 0 });
  return [box, width];
}
