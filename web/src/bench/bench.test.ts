/** Reading the cycle table and laying out the Bench. */
import { describe, expect, it } from "vitest";
import { cylinderRuns, liftArea, onCircle, rowsOf, stateStrips, strokePieces } from "./geometry";
import {
  cycleDeg,
  nextFiring,
  normalise,
  type Segment,
  sampled,
  segmentAt,
  type Table,
  verdict,
} from "./lookup";

const says = (state: string, settable: boolean) => ({ state, settable, says: state });

function segment(from_deg: number, to_deg: number, state: string): Segment {
  return {
    from_deg,
    to_deg,
    stroke: "power",
    overlap: false,
    roles: { intake: says(state, state === "heel") },
  };
}

const SEGMENTS = [segment(0, 330, "heel"), segment(330, 600, "open"), segment(600, 720, "heel")];
const RAMP = Array.from({ length: 720 }, (_, deg) => deg);

const TABLE = {
  engine: {
    firing_order: [1, 2],
    cylinders: [
      { cylinder: 1, fire_deg: 0, companion: null },
      { cylinder: 2, fire_deg: 180, companion: null },
    ],
    valves: [
      { number: 1, cylinder: 1, role: "intake" },
      { number: 2, cylinder: 1, role: "intake" },
      { number: 3, cylinder: 2, role: "intake" },
    ],
  },
  roles: { intake: { lift_mm: RAMP, gap_mm: RAMP, margin_deg: RAMP } },
  segments: SEGMENTS,
} as unknown as Table;

describe("lookup", () => {
  it("keeps angles in the cycle", () => {
    expect(normalise(-10)).toBe(710);
    expect(normalise(720)).toBe(0);
  });

  it("reads between whole degrees, also over the end", () => {
    expect(sampled(RAMP, 10.25)).toBeCloseTo(10.25);
    expect(sampled(RAMP, 719.5)).toBeCloseTo(719 / 2);
  });

  it("finds the segment that holds an angle, edges to the later one", () => {
    expect(segmentAt(SEGMENTS, 329.9).from_deg).toBe(0);
    expect(segmentAt(SEGMENTS, 330).from_deg).toBe(330);
    expect(segmentAt(SEGMENTS, 719.9).from_deg).toBe(600);
  });

  it("shifts a cylinder by its firing angle", () => {
    expect(cycleDeg({ cylinder: 2, fire_deg: 180, companion: null }, 90)).toBe(630);
  });

  it("joins what is said the same of one cylinder, settable first", () => {
    const lines = verdict(TABLE, 400);
    expect(lines.map((line) => [line.valves, line.settable])).toEqual([
      [[3], true],
      [[1, 2], false],
    ]);
  });

  it("goes to the next firing and never stays", () => {
    expect(nextFiring(TABLE, 0, 1)).toBe(180);
    expect(nextFiring(TABLE, 0, -1)).toBe(180);
    expect(nextFiring(TABLE, 181, -1)).toBe(180);
  });
});

describe("geometry", () => {
  it("closes a lift area on its baseline", () => {
    const box = { width: 720, baseline: 50, height: 40, fullMm: 719 };
    const path = liftArea(RAMP, { cylinder: 1, fire_deg: 0, companion: null }, box);
    expect(path.startsWith("M0,50L0.0,50.0")).toBe(true);
    expect(path.endsWith("L720,50Z")).toBe(true);
  });

  it("joins equal states and cuts them at the end of the row", () => {
    const strips = stateStrips(
      SEGMENTS,
      { cylinder: 2, fire_deg: 180, companion: null },
      "intake",
      720,
    );
    expect(strips).toEqual([
      { x: 0, width: 60, state: "open" },
      { x: 60, width: 450, state: "heel" },
      { x: 510, width: 210, state: "open" },
    ]);
  });

  it("puts strokes in pieces that cover the row", () => {
    const pieces = strokePieces(90);
    expect(pieces.reduce((sum, piece) => sum + piece.to - piece.from, 0)).toBe(720);
    expect(pieces.filter((piece) => piece.stroke === "compression")).toHaveLength(2);
  });

  it("breaks valves into rows without breaking a cylinder", () => {
    const valves = Array.from({ length: 24 }, (_, i) => ({ cylinder: Math.floor(i / 4) + 1 }));
    expect(rowsOf(valves, 780, 56).map((row) => row.length)).toEqual([12, 12]);
    expect(rowsOf(valves, 334, 56).map((row) => row.length)).toEqual([4, 4, 4, 4, 4, 4]);
    expect(rowsOf(valves.slice(0, 8), 780, 56)).toHaveLength(1);
    expect(cylinderRuns(valves.slice(0, 8))).toEqual([
      { cylinder: 1, from: 0, to: 3 },
      { cylinder: 2, from: 4, to: 7 },
    ]);
  });

  it("goes clockwise from the top", () => {
    const right = onCircle(100, 100, 50, 90);
    expect(right.x).toBeCloseTo(150);
    expect(right.y).toBeCloseTo(100);
  });
});
