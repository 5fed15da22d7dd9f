import { describe, expect, it } from "vitest";
import { byUrgency, gapSpan, meterSpan } from "./trendScales";
import { VALVE } from "./workshop.test-data";

describe("where a trend's figures lie", () => {
  it("the spec and every gap are on the chart, and nothing lies below zero", () => {
    const [low, high] = gapSpan({ ...VALVE, low_mm: 0.02, high_mm: 0.3 });
    expect(low).toBe(0);
    expect(high).toBeGreaterThan(0.3);
  });

  it("reaches to where the spec is left, and not to a far forecast", () => {
    const [from, to] = meterSpan([VALVE], 500);
    expect(from).toBe(100);
    expect(to).toBeGreaterThan(500);
    const [, far] = meterSpan([VALVE], 90_000);
    expect(far).toBe(300 + 1.5 * 200);
  });

  it("the most urgent valve comes first, one that never leaves its spec last", () => {
    const never = { ...VALVE, valve: 2, soonest: null, expected: null };
    const soon = { ...VALVE, valve: 3, soonest: 310 };
    expect(byUrgency([never, VALVE, soon]).map((valve) => valve.valve)).toEqual([3, 1, 2]);
  });
});
