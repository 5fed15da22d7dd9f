/** A count-down on this device: how many seconds are left of what the server said. */
import { useEffect, useMemo, useState } from "react";

/** null where nothing counts down; 0 once it is over. */
export function useSecondsLeft({ seconds_left }: { seconds_left: number | null }): number | null {
  // Counted from when it was told: clocks differ, how long is left does not. What is known of the
  // question may change meanwhile (one's own answer), and tells no new time.
  const endsAt = useMemo(
    () => (seconds_left === null ? null : performance.now() + seconds_left * 1000),
    [seconds_left],
  );
  const [left, setLeft] = useState(() => leftUntil(endsAt));
  useEffect(() => {
    setLeft(leftUntil(endsAt));
    if (endsAt === null) return;
    const timer = setInterval(() => setLeft(leftUntil(endsAt)), 250);
    return () => clearInterval(timer);
  }, [endsAt]);
  return left;
}

function leftUntil(endsAt: number | null): number | null {
  return endsAt === null ? null : Math.max(0, Math.ceil((endsAt - performance.now()) / 1000));
}
