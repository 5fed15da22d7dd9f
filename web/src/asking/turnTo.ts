/** Turns a crank to an angle before everybody's eyes, the shorter way round. */
import { type Crank, shortest } from "../bench/crank";

const MS_PER_DEG = 14;
const LEAST_MS = 600;
const MOST_MS = 4000;

/** Returns what stops it. Where people want no motion it is there at once. */
export function turnTo(crank: Crank, from: number, deg: number): () => void {
  const by = shortest(from, deg);
  if (window.matchMedia?.("(prefers-reduced-motion: reduce)").matches || by === 0) {
    crank.set(deg);
    return () => {};
  }
  const ms = Math.min(MOST_MS, Math.max(LEAST_MS, Math.abs(by) * MS_PER_DEG));
  const begun = performance.now();
  let frame = requestAnimationFrame(function turn(now) {
    const share = Math.min(1, (now - begun) / ms);
    // Gently on and gently off, as by hand.
    const eased = share * share * (3 - 2 * share);
    crank.set(from + by * eased);
    if (share < 1) frame = requestAnimationFrame(turn);
  });
  return () => cancelAnimationFrame(frame);
}
