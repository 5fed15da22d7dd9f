import { describe, expect, it } from "vitest";
import { merged, withField } from "./merging";

describe("two devices on one form", () => {
  it("keep what only one of them changed", () => {
    const base = { a: "1", b: "2", roles: { intake: { min: "0.2", max: "0.3" } } };
    const mine = { ...base, a: "9" };
    const theirs = { ...base, roles: { intake: { min: "0.2", max: "0.35" } }, c: "new" };
    expect(merged(mine, base, theirs)).toEqual({
      typed: { a: "9", b: "2", c: "new", roles: { intake: { min: "0.2", max: "0.35" } } },
      clashes: [],
    });
  });

  it("are both shown where both changed a field, each to something else", () => {
    const made = merged({ a: "1", b: "7" }, { a: "0", b: "0" }, { a: "2", b: "7" });
    expect(made.typed).toEqual({ a: "1", b: "7" });
    expect(made.clashes).toEqual([{ field: "a", mine: "1", theirs: "2" }]);
  });

  it("may empty a field", () => {
    expect(merged({ a: "1", b: "2" }, { a: "1", b: "2" }, { b: "2" }).typed).toEqual({ b: "2" });
    expect(merged({} as Record<string, string>, { a: "1" }, { a: "1", b: "2" }).typed).toEqual({
      b: "2",
    });
  });

  it("take a list as one", () => {
    const made = merged({ valves: [1, 2] }, { valves: [1, 2] }, { valves: [2, 1] });
    expect(made.typed).toEqual({ valves: [2, 1] });
    expect(withField({ a: { b: "1" } }, "a.b", undefined)).toEqual({ a: {} });
  });
});
