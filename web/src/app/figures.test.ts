import { describe, expect, it } from "vitest";
import { figureOf, isNoFigure } from "./figures";

describe("a figure as it is typed", () => {
  it.each([
    ["12,5", 12.5],
    ["12.5", 12.5],
    [" 0,25 ", 0.25],
    [".5", 0.5],
    ["90°", 90],
    ["0.25 mm", 0.25],
    ["-10", -10],
    ["3.", 3],
  ])("%j is %d", (text, figure) => {
    expect(figureOf(text)).toBe(figure);
  });

  it.each(["", "x", "o.25", "1,2,3", "1.2.3", "1e5", "0x10", "12 5", "NaN", "Infinity"])(
    "%j is none",
    (text) => {
      expect(figureOf(text)).toBeNull();
      expect(isNoFigure(text)).toBe(text !== "");
    },
  );
});
