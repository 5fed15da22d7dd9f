/** Where turning stops: marks, events, firings, stops of the route; and rocking about a place. */
import type { Crank } from "./crank";
import { CYCLE_DEG, cycleDeg, cylinderOf, normalise, type Table } from "./lookup";

const ROCK_MS = 3600;
const SWINGS = 2;

/** The next of these angles ahead of (or behind) a place; never the place itself. */
export function nextOf(
  anglesDeg: readonly number[],
  fromDeg: number,
  direction: 1 | -1,
): number | undefined {
  const ahead = (deg: number) => {
    const turn = normalise((deg - fromDeg) * direction);
    // A crank is set in tenths of a degree: nearer than that is the place itself.
    return turn < 0.06 || CYCLE_DEG - turn < 0.06 ? CYCLE_DEG : turn;
  };
  let best: number | undefined;
  for (const deg of anglesDeg) if (best === undefined || ahead(deg) < ahead(best)) best = deg;
  return best;
}

export const firings = (table: Table) => table.engine.cylinders.map((c) => c.fire_deg);
export const markAngles = (table: Table, withCam = true) =>
  table.engine.marks
    .filter((mark) => withCam || mark.on === "crank")
    .flatMap((mark) => mark.crank_degs);
export const eventAngles = (table: Table) => table.events.map((event) => event.crank_deg);

/** The events at a place, as words: what was just reached. */
export function eventsAt(table: Table, deg: number): string {
  return table.events
    .filter((event) => Math.abs(event.crank_deg - deg) < 0.06)
    .map((event) => event.says)
    .join(", ");
}

/** Which valves rocking about this place opens, forward and back: looked up, not worked out. */
export function rocked(table: Table, deg: number): { forward: number[]; back: number[] } {
  const opens = (side: "rocks_forward" | "rocks_back") =>
    table.engine.valves
      .filter((valve) => {
        const cycle = cycleDeg(cylinderOf(table, valve.cylinder), deg);
        const arcs = table.roles[valve.cycle]?.[side] ?? [];
        return arcs.some((arc) => normalise(cycle - arc.from_deg) < arc.to_deg - arc.from_deg);
      })
      .map((valve) => valve.number);
  return { forward: opens("rocks_forward"), back: opens("rocks_back") };
}

/**
 * Swings the crank by so many degrees about where it stands, forward first, and back to it. Gives a way to stop
 * early. Without motion (the reader's wish) it only steps to both ends.
 */
export function rock(crank: Crank, rockDeg: number, done: () => void): () => void {
  const startDeg = crank.deg;
  const still = window.matchMedia("(prefers-reduced-motion: reduce)").matches;
  const began = performance.now();
  let frame = 0;
  const step = (now: number) => {
    const share = (now - began) / ROCK_MS;
    if (share >= 1) return finish();
    const swing = Math.sin(share * SWINGS * 2 * Math.PI);
    crank.drag(startDeg + rockDeg * (still ? Math.sign(swing) : swing));
    frame = requestAnimationFrame(step);
  };
  const finish = () => {
    cancelAnimationFrame(frame);
    crank.drag(startDeg);
    done();
  };
  frame = requestAnimationFrame(step);
  return finish;
}
