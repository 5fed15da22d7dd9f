/** What is typed, once nobody has typed for a moment: for questions that each key would repeat. */
import { useEffect, useState } from "react";

const PAUSE_MS = 250;

export function useSettled<T>(value: T): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), PAUSE_MS);
    return () => clearTimeout(timer);
  }, [value]);
  return settled;
}
