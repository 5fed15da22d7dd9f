/** Where a trend's figures lie on a chart; pure. */
import type { Schemas } from "../api/client";

type Valve = Schemas["ValveTrendOut"];

/** From the first look to a little beyond where something happens. */
export function meterSpan(valves: readonly Valve[], ...marks: (number | null)[]): [number, number] {
  const first = Math.min(...valves.flatMap((valve) => valve.points.map((point) => point.meter)));
  const last = Math.max(...valves.map((valve) => valve.last_meter));
  const known = marks.filter((mark): mark is number => mark !== null);
  const far = Math.max(last, ...known);
  const most = last + Math.max(last - first, 1) * MOST_AHEAD;
  const room = Math.max(far - first, 1) * 0.04;
  return [first, Math.min(far + room, most)];
}

/** A forecast further off than this, in lengths of the log, is nobody's next week. */
const MOST_AHEAD = 1.5;

/** The gaps of one valve and its spec, with room around. */
export function gapSpan(valve: Valve): [number, number] {
  const gaps = valve.points.flatMap((point) =>
    [point.found_mm, point.left_mm].filter((gap): gap is number => gap !== null),
  );
  const low = Math.min(valve.low_mm, ...gaps);
  const high = Math.max(valve.high_mm, ...gaps);
  const room = (high - low) * 0.15 || 0.02;
  return [Math.max(0, low - room), high + room];
}

/** Valves by when they may leave their spec, the soonest first; those that never do come last. */
export function byUrgency(valves: readonly Valve[]): Valve[] {
  const when = (valve: Valve) => valve.soonest ?? valve.expected ?? Number.POSITIVE_INFINITY;
  return [...valves].sort((one, other) => when(one) - when(other) || one.valve - other.valve);
}
