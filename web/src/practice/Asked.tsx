/** A question before a mistake becomes costly: asked and answered in the pad, under the thumb. */
import { useLayoutEffect, useRef } from "react";
import type { Running } from "./useRun";

export function Asked({ running }: { running: Running }) {
  const { asked, act, leave } = running;
  const whole = useRef<HTMLDivElement>(null);
  const first = useRef<HTMLButtonElement>(null);
  // With the question itself: no key pressed between the two strikes the bench below it.
  useLayoutEffect(() => {
    if (asked === null) return;
    whole.current?.scrollIntoView?.({ block: "nearest" });
    first.current?.focus({ preventScroll: true });
  }, [asked]);
  if (asked === null) return null;
  return (
    <div ref={whole} className="notice calm coach-asks" role="alert">
      <p>{asked.says}</p>
      <div className="ways">
        <button ref={first} type="button" className="button main" onClick={leave}>
          I look again
        </button>
        <button type="button" className="button" onClick={() => act(asked.action, true)}>
          Do it all the same
        </button>
      </div>
    </div>
  );
}
