/** Lengths and angles as people read them. */
import { describe, expect, it } from "vitest";
import { newKey } from "./keys";
import { beside, degrees, inOtherUnit, thou } from "./lengths";

describe("lengths", () => {
  it("never rounds a gap onto a limit of its spec, or over it", () => {
    const inMm = { low_mm: 0.13, high_mm: 0.18, written_in: "mm" };
    expect(beside(0.15, inMm)).toBe("0.15 mm");
    expect(beside(0.1804, inMm)).toBe("0.1804 mm");
    expect(beside(0.182, inMm)).toBe("0.182 mm");
    expect(beside(0.18, inMm)).toBe("0.18 mm");
    expect(beside(0.1296, inMm)).toBe("0.1296 mm");
  });

  it("writes a gap in the unit of its spec", () => {
    const inThou = { low_mm: 0.0762, high_mm: 0.127, written_in: "thou" };
    expect(beside(0.127, inThou)).toBe("5.0 thou");
    expect(beside(0.1275, inThou)).toBe("5.02 thou");
    expect(beside(0.1, inThou)).toBe("3.9 thou");
  });

  it("drops only the zeros that say nothing", () => {
    expect(thou(0.254)).toBe("10 thou");
    expect(thou(0.127)).toBe("5 thou");
    expect(thou(0.26)).toBe("10.2 thou");
    expect(degrees(360)).toBe("360°");
    expect(degrees(107.5)).toBe("107.5°");
    expect(thou(2.54)).toBe("100 thou");
  });

  it("says what the other unit would be while a figure is typed", () => {
    expect(inOtherUnit("0,25", "mm")).toBe("9.8 thou");
    expect(inOtherUnit("10", "thou")).toBe("0.25 mm");
    expect(inOtherUnit("", "mm")).toBe("");
    expect(inOtherUnit("0.2.", "mm")).toBe("");
  });
});

describe("request keys", () => {
  it("are long and never the same", () => {
    const keys = new Set(Array.from({ length: 50 }, newKey));
    expect(keys.size).toBe(50);
    for (const key of keys) expect(key).toMatch(/^[0-9a-f]{32}$/);
  });
});
