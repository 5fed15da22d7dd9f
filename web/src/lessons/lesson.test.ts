/** Steps as they are written: another kind keeps what both have, and what says nothing is left out. */
import { describe, expect, it } from "vitest";
import { beginsAt, moved, newStep, ofKind, problemAt, withField } from "./lesson";

describe("a step", () => {
  it("begins with what its kind needs", () => {
    expect(newStep("question", "Pump")).toEqual({
      kind: "question",
      title: "",
      engine: "Pump",
      question: "which-valves",
    });
    expect(newStep("text", "Pump")).toEqual({ kind: "text", title: "" });
  });

  it("of another kind keeps what both have, and nothing that this one has not", () => {
    const bench = { kind: "bench", title: "A", engine: "Pump", at_deg: 40, view: "section" };
    expect(ofKind(bench, "question")).toEqual({
      kind: "question",
      title: "A",
      engine: "Pump",
      at_deg: 40,
      question: "which-valves",
    });
    expect(ofKind(bench, "text")).toEqual({ kind: "text", title: "A" });
  });

  it("leaves out what says nothing, but not its title", () => {
    const step = { kind: "text", title: "A", text: "b", minutes: 4 };
    expect(withField(step, "text", "")).toEqual({ kind: "text", title: "A", minutes: 4 });
    expect(withField(step, "minutes", null)).not.toHaveProperty("minutes");
    expect(withField(step, "title", "")).toHaveProperty("title", "");
    expect(withField(step, "minutes", 0)).toHaveProperty("minutes", 0);
  });
});

describe("the steps", () => {
  const steps = ["a", "b", "c"].map((title) => ({ kind: "text", title, minutes: 5 }));
  const titles = (list: { title: string }[]) => list.map((one) => one.title).join("");

  it("change places, and stay at the ends", () => {
    expect(titles(moved(steps, 0, 1))).toBe("bac");
    expect(titles(moved(steps, 2, -1))).toBe("acb");
    expect(titles(moved(steps, 0, -1))).toBe("abc");
    expect(titles(moved(steps, 2, 1))).toBe("abc");
  });

  it("begin after those before them", () => {
    expect(beginsAt([{ minutes: 5 }, {}, { minutes: 10 }])).toEqual([0, 5, 5, 15]);
  });

  it("are told of at their place", () => {
    const fields = [{ path: "$.steps[1].engine", problem: "is empty" }];
    expect(problemAt(fields, 1, "engine")).toBe("is empty");
    expect(problemAt(fields, 0, "engine")).toBeUndefined();
  });
});
