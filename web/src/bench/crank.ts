/**
 * The crank: one angle that many drawings follow.
 *
 * What turns is painted straight into the page once a frame (`usePaint`), which holds the
 * frame rate on a slow tablet; what is told in words re-renders only when the words change
 * (`useTold`).
 */
import { useEffect, useLayoutEffect, useRef, useSyncExternalStore } from "react";
import { normalise } from "./lookup";

export class Crank {
  private angle: number;
  private frame = 0;
  private readonly painters = new Set<(deg: number) => void>();
  private readonly listeners = new Set<() => void>();

  constructor(deg: number) {
    this.angle = normalise(deg);
  }

  get deg(): number {
    return this.angle;
  }

  readonly set = (deg: number) => {
    // A tenth of a degree is finer than anybody turns, and keeps the figures quiet.
    this.angle = normalise(Math.round(deg * 10) / 10);
    if (this.frame === 0) this.frame = requestAnimationFrame(this.paint);
  };

  readonly turn = (byDeg: number) => this.set(this.angle + byDeg);

  private readonly paint = () => {
    this.frame = 0;
    for (const painter of this.painters) painter(this.angle);
    for (const listener of this.listeners) listener();
  };

  readonly onPaint = (painter: (deg: number) => void) => {
    this.painters.add(painter);
    return () => {
      this.painters.delete(painter);
    };
  };

  readonly subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => {
      this.listeners.delete(listener);
    };
  };
}

/** Calls `painter` with the angle now and at every frame in which it has changed. */
export function usePaint(crank: Crank, painter: (deg: number) => void) {
  const latest = useRef(painter);
  useLayoutEffect(() => {
    latest.current = painter;
    painter(crank.deg);
  });
  useEffect(() => crank.onPaint((deg) => latest.current(deg)), [crank]);
}

/** A text made from the angle; the component renders again only when the text differs. */
export function useTold(crank: Crank, tell: (deg: number) => string): string {
  return useSyncExternalStore(crank.subscribe, () => tell(crank.deg));
}
