/** A value once it has not changed for a while. */
import { useEffect, useState } from "react";

export function useRested<Value>(value: Value, ms: number): Value {
  const [rested, setRested] = useState(value);
  useEffect(() => {
    const timer = window.setTimeout(() => setRested(value), ms);
    return () => window.clearTimeout(timer);
  }, [value, ms]);
  return rested;
}
