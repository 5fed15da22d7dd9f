/** Reading the cycle table and laying out the Bench. */
import { describe, expect, it } from "vitest";
import {
  cylinderRuns,
  headGroups,
  leanDeg,
  liftArea,
  liftCurve,
  onCircle,
  polyline,
  rowsOf,
  stateStrips,
  strokePieces,
} from "./geometry";
import {
  cycleDeg,
  normalise,
  type Segment,
  sampled,
  segmentAt,
  segmentsAt,
  type Table,
  verdict,
} from "./lookup";
import { eventsAt, firings, markAngles, nextOf, rocked } from "./turning";

const says = (state: string, settable: boolean) => ({ state, settable, says: state });

function segment(from_deg: number, to_deg: number, state: string): Segment {
  return {
    from_deg,
    to_deg,
    stroke: "power",
    overlap: false,
    roles: { intake: says(state, state === "heel") },
    signs: { followers: "", rods: null, lobes: "", air: "" },
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
      { number: 1, cylinder: 1, role: "intake", cycle: "intake" },
      { number: 2, cylinder: 1, role: "intake", cycle: "intake" },
      { number: 3, cylinder: 2, role: "intake", cycle: "intake" },
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
    const lines = verdict(TABLE, segmentsAt(TABLE, 400));
    expect(lines.map((line) => [line.valves, line.settable])).toEqual([
      [[3], true],
      [[1, 2], false],
    ]);
  });

  it("goes to the next of some angles and never stays", () => {
    expect(nextOf(firings(TABLE), 0, 1)).toBe(180);
    expect(nextOf(firings(TABLE), 0, -1)).toBe(180);
    expect(nextOf(firings(TABLE), 181, -1)).toBe(180);
    expect(nextOf([], 10, 1)).toBeUndefined();
    // An angle with more decimals than the crank is set to counts as reached.
    expect(nextOf([102.857, 205.714], 102.9, 1)).toBe(205.714);
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

  it("puts valves into their banks, and leaves one bank nameless", () => {
    const valves = [{ cylinder: 1 }, { cylinder: 2 }, { cylinder: 3 }];
    expect(headGroups({ banks: [[1, 2, 3]], valves })).toEqual([{ name: "", place: 0, valves }]);
    const groups = headGroups({ banks: [[1, 3], [2]], valves });
    expect(groups.map((g) => g.name)).toEqual(["bank of cylinders 1 3", "bank of cylinder 2"]);
    expect(groups[0]?.valves).toEqual([{ cylinder: 1 }, { cylinder: 3 }]);
  });

  it("leans banks as they lie", () => {
    expect(leanDeg("inline", 0, 1)).toBe(0);
    expect([leanDeg("flat", 0, 2), leanDeg("flat", 1, 2)]).toEqual([-90, 90]);
    expect(leanDeg("vee", 1, 2)).toBe(-leanDeg("vee", 0, 2));
  });

  it("draws a lift over the end of the cycle without a break", () => {
    const flat = Array.from({ length: 720 }, () => 2);
    const box = { width: 20, spanDeg: 20, baseline: 100, height: 50, fullMm: 4 };
    const path = liftCurve(flat, 710, box);
    expect(path.split("L")).toHaveLength(21);
    expect(path.match(/,75\.0/g)).toHaveLength(21);
    expect(
      polyline(
        [0, 1],
        [5, 6],
        (x) => x * 10,
        (y) => y,
      ),
    ).toBe("M0.0,5.0L10.0,6.0");
  });

  it("goes clockwise from the top", () => {
    const right = onCircle(100, 100, 50, 90);
    expect(right.x).toBeCloseTo(150);
    expect(right.y).toBeCloseTo(100);
  });
});

describe("where turning stops", () => {
  const engine = {
    ...TABLE.engine,
    marks: [
      { on: "crank", label: "T", deg: 10, means: "tdc", crank_degs: [10, 370] },
      { on: "cam", label: "dot", deg: 400, means: "tdc", crank_degs: [400] },
    ],
  };
  const table = {
    ...TABLE,
    engine,
    events: [{ crank_deg: 330, says: "intake 1 opens" }],
  } as unknown as Table;

  it("passes a crank mark in both turns and a cam mark once", () => {
    expect(markAngles(table)).toEqual([10, 370, 400]);
  });

  it("says what happens where an event is reached", () => {
    expect(eventsAt(table, 330)).toBe("intake 1 opens");
    expect(eventsAt(table, 331)).toBe("");
  });

  it("knows what rocking opens on either side, as the server tells it", () => {
    // Valves 1 and 2 open at 330 and shut at 600; valve 3 does so 180 later.
    const arc = (from_deg: number, to_deg: number) => [{ from_deg, to_deg }];
    const intake = { rocks_forward: arc(310, 330), rocks_back: arc(600, 620) };
    const rocking = { ...table, roles: { intake } } as unknown as Table;
    expect(rocked(rocking, 320)).toEqual({ forward: [1, 2], back: [] });
    expect(rocked(rocking, 610)).toEqual({ forward: [], back: [1, 2] });
    expect(rocked(rocking, 450)).toEqual({ forward: [], back: [] });
  });
});
