/** Ctrl+Enter saves a form from any of its fields. */
import { useEffect, useRef } from "react";

export function useSubmitKey(send: () => void): void {
  const latest = useRef(send);
  useEffect(() => {
    latest.current = send;
  });
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.key !== "Enter" || !(event.ctrlKey || event.metaKey)) return;
      if (document.querySelector("[role=dialog]")) return;
      event.preventDefault();
      latest.current();
    };
    document.addEventListener("keydown", listen);
    return () => document.removeEventListener("keydown", listen);
  }, []);
}
