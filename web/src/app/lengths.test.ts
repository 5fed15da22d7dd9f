/** Lengths and angles as people read them. */
import { describe, expect, it } from "vitest";
import { newKey } from "./keys";
import { degrees, inOtherUnit, spec, thou } from "./lengths";

describe("lengths", () => {
  it("writes both units, the reader's own first", () => {
    const limits = { low_mm: 0.254, high_mm: 0.3048, low_thou: 10, high_thou: 12 };
    const inMm = { ...limits, written_in: "mm" };
    expect(spec(inMm, "mm")).toEqual(["0.25–0.30 mm", "10–12 thou"]);
    expect(spec(inMm, "thou")).toEqual(["10–12 thou", "0.25–0.30 mm"]);
    expect(spec({ ...limits, written_in: "thou" }, "mm")).toEqual(["10–12 thou", "0.25–0.30 mm"]);
  });

  it("names the leaf of a single figure, exactly, and what the shop allows", () => {
    const six = { low_mm: 0.127, high_mm: 0.1778, low_thou: 5, high_thou: 7, written_in: "thou" };
    const shop = { nominal_mm: 0.1524, shop: "±1 thou" };
    expect(spec({ ...six, ...shop }, "mm")).toEqual(["6 thou, ±1 thou by the shop", "0.1524 mm"]);
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
