/** Whole minutes since a moment, or until one; they go on by themselves. */
import { useEffect, useState } from "react";

const MS_PER_MINUTE = 60_000;
const LOOK_MS = 10_000;

export function useMinutes(at: string | null): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), LOOK_MS);
    return () => clearInterval(timer);
  }, []);
  if (at === null) return 0;
  return Math.max(0, Math.floor(Math.abs(now - Date.parse(at)) / MS_PER_MINUTE));
}
