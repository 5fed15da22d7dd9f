/**
 * Reading the cycle table that the server computed: which entry, which segment, and values
 * between whole degrees for drawing. No rule of the trade is decided here.
 */
import type { Schemas } from "../api/client";

export type Table = Schemas["CycleTableOut"];
export type Segment = Schemas["SegmentOut"];
export type Valve = Schemas["ValveOut"];
export type Cylinder = Schemas["CylinderOut"];

export const CYCLE_DEG = 720;

export function normalise(deg: number): number {
  return ((deg % CYCLE_DEG) + CYCLE_DEG) % CYCLE_DEG;
}

/** Where a cylinder stands in its own cycle. */
export function cycleDeg(cylinder: Cylinder, crankDeg: number): number {
  return normalise(crankDeg - cylinder.fire_deg);
}

/** The place of the segment that holds this cycle angle; segments cover the cycle in order. */
function placeOf(segments: readonly Segment[], cycle: number): number {
  let low = 0;
  let high = segments.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if ((segments[middle] as Segment).from_deg <= cycle) low = middle;
    else high = middle - 1;
  }
  return low;
}

export function segmentAt(segments: readonly Segment[], cycle: number): Segment {
  const found = segments[placeOf(segments, cycle)];
  if (found === undefined) throw new Error("a cycle table has no segments");
  return found;
}

/** A value between the whole degrees of a table of 720, by a straight line. */
export function sampled(values: readonly number[], cycle: number): number {
  const at = normalise(cycle);
  const below = Math.floor(at) % CYCLE_DEG;
  const share = at - Math.floor(at);
  const here = values[below] ?? 0;
  const next = values[(below + 1) % CYCLE_DEG] ?? 0;
  return here + (next - here) * share;
}

export function cylinderOf(table: Table, number: number): Cylinder {
  const found = table.engine.cylinders.find((c) => c.cylinder === number);
  if (found === undefined) throw new Error(`no cylinder ${number}`);
  return found;
}

/** What one valve is doing: the words and numbers for it, looked up. */
export function valveNow(table: Table, valve: Valve, crankDeg: number) {
  const cycle = cycleDeg(cylinderOf(table, valve.cylinder), crankDeg);
  const segment = segmentAt(table.segments, cycle);
  const role = table.roles[valve.cycle];
  const told = segment.roles[valve.cycle];
  if (role === undefined || told === undefined) throw new Error(`no role ${valve.role}`);
  return {
    segment,
    state: told.state,
    settable: told.settable,
    says: told.says,
    liftMm: sampled(role.lift_mm, cycle),
    gapMm: sampled(role.gap_mm, cycle),
    /** Of a valve that is pulled shut. */
    closingMm: role.closing_gap_mm ? sampled(role.closing_gap_mm, cycle) : null,
    marginDeg: sampled(role.margin_deg, cycle),
  };
}

/** The cycle angle at which valves of a role are open furthest. */
export function fullyOpenDeg(table: Table, role: string): number {
  const lift = table.roles[role]?.lift_mm ?? [];
  const most = Math.max(...lift);
  // Full lift may hold for some degrees: its middle.
  return (lift.indexOf(most) + lift.lastIndexOf(most)) / 2;
}

export type Line = { valves: number[]; cylinder: number; settable: boolean; says: string };

/** For each cylinder, in the engine's order: which segment of the table it stands in. */
export function segmentsAt(table: Table, crankDeg: number): number[] {
  return table.engine.cylinders.map((cylinder) =>
    placeOf(table.segments, cycleDeg(cylinder, crankDeg)),
  );
}

/** The verdict in lines: valves of a cylinder that are said the same of, those to set first. */
export function verdict(table: Table, places: readonly number[]): Line[] {
  const lines = new Map<string, Line>();
  for (const valve of table.engine.valves) {
    const at = table.engine.cylinders.findIndex((c) => c.cylinder === valve.cylinder);
    const segment = table.segments[places[at] ?? -1];
    const told = segment?.roles[valve.cycle];
    if (segment === undefined || told === undefined) throw new Error(`no role ${valve.role}`);
    const says = told.settable ? `${segment.stroke}, ${told.says}` : told.says;
    const key = `${valve.cylinder} ${says}`;
    const same = lines.get(key);
    if (same) same.valves.push(valve.number);
    else
      lines.set(key, {
        valves: [valve.number],
        cylinder: valve.cylinder,
        settable: told.settable,
        says,
      });
  }
  const all = [...lines.values()];
  return [...all.filter((l) => l.settable), ...all.filter((l) => !l.settable)];
}
