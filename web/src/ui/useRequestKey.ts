/** A key that goes with a request until the server has answered: pressed twice, or sent again, it counts once. */
import { useState } from "react";

export function useRequestKey(): [key: string, renew: () => void] {
  const [key, setKey] = useState(() => crypto.randomUUID());
  return [key, () => setKey(crypto.randomUUID())];
}
