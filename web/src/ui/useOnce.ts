/** True from the first time it was: what is shown once stays, so that what was done there can be taken back. */
import { useState } from "react";

export function useOnce(now: boolean): boolean {
  const [once, setOnce] = useState(now);
  if (now && !once) setOnce(true);
  return once || now;
}
