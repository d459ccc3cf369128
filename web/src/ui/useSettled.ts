import { useEffect, useState } from "react";

const settleTime = 60;

/** The value once it has not changed for a moment, so that not every key asks the server. */
export function useSettled<T>(value: T): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), settleTime);
    return () => clearTimeout(timer);
  }, [value]);
  return settled;
}
