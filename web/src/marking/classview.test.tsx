/** The class at a glance: every cell is marked and said, keys in doubt come first. */
import { fireEvent, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { INES, serve, show } from "../testing/render";
import ClassViewPage from "./ClassViewPage";
import { inOrderOf, lettersOf, STATES, stateOf, tallyOf, wordsOf } from "./classView";

const TOVE = { ...INES, id: 1, display_name: "Tove", may_teach: true };
const row = (id: number, student: string, cells: string[], errors: (number | null)[]) => ({
  hand_in_id: id,
  student,
  cells,
  gaps_mm: errors.map((error) => (error === null ? null : 0.35 + error)),
  errors_mm: errors,
});
const SPEC = { low_mm: 0.32, high_mm: 0.38, written_in: "mm" };
const VIEW: Schemas["ClassViewOut"] = {
  sheet_id: 3,
  title: "First measuring",
  class_id: 2,
  waits: 4,
  valves: [
    { number: 1, cylinder: 1, role: "exhaust", ...SPEC, key_mm: 0.35, doubted: false },
    { number: 2, cylinder: 1, role: "intake", ...SPEC, key_mm: 0.35, doubted: true },
  ],
  rows: [
    row(7, "Suvi Arnholt", ["right", "larger"], [0, 0.08]),
    row(8, "Bo Hallgrim", ["blank", "smaller"], [null, -0.05]),
    row(9, "Jonas Brekkel", ["right", "right"], [0.01, 0]),
  ],
  groups: [
    {
      kind: "caught-tip",
      label: "Leaf caught",
      about: "The tip of the leaf caught.",
      valves: [2],
      of: [{ hand_in_id: 8, valves: [2] }],
    },
  ],
  doubts: ["6 of 8 read valve 2 loose: look at the key."],
};

function open(view: object = VIEW) {
  serve((call) => (call.path === "/api/sheets/3/class-view" ? { body: view } : undefined));
  show(<ClassViewPage />, { path: "/board/3/class", route: "/board/:sheetId/class", person: TOVE });
}

describe("the class at a glance", () => {
  it("says which key most of the class contradict, and marks its column", async () => {
    open();
    expect(await screen.findByText(/look at the key/)).toBeTruthy();
    const grid = screen.getByRole("table");
    expect(grid.querySelectorAll("th[data-doubted='true']")).toHaveLength(1);
    expect(within(grid).getByText("2/3")).toBeTruthy();
    expect(screen.getByText("3 sheets in, 4 still to come.")).toBeTruthy();
  });

  it("tells a cell in words, by a touch and by the arrows", async () => {
    open();
    const grid = await screen.findByRole("table");
    const cells = [...grid.querySelectorAll<HTMLElement>("tbody td")];
    await userEvent.click(cells[1] as HTMLElement);
    expect(
      screen.getByText("Suvi Arnholt, valve 2: 0.43 mm (16.9 thou), 0.08 mm larger than the key."),
    ).toBeTruthy();
    fireEvent.keyDown(cells[1] as HTMLElement, { key: "ArrowDown" });
    expect(document.activeElement).toBe(cells[3]);
    expect(
      screen.getByText(
        "Bo Hallgrim, valve 2: 0.30 mm (11.8 thou), 0.05 mm smaller than the key; explained by: Leaf caught.",
      ),
    ).toBeTruthy();
    fireEvent.keyDown(cells[3] as HTMLElement, { key: "ArrowRight" });
    expect(document.activeElement).toBe(cells[3]);
  });

  it("names what explains the figures, whose, and on which valves", async () => {
    open();
    const groups = within(await screen.findByRole("region", { name: "What explains the figures" }));
    expect(groups.getByText("Leaf caught: 1 student")).toBeTruthy();
    expect(groups.getByRole("link", { name: "Bo Hallgrim" }).getAttribute("href")).toBe(
      "/hand-in/8",
    );
    expect(groups.getByText("(2)")).toBeTruthy();
  });

  it("says so while nobody has handed in", async () => {
    open({ ...VIEW, rows: [], groups: [], doubts: [] });
    expect(await screen.findByText("Nobody has handed in yet.")).toBeTruthy();
    expect(screen.queryByRole("table")).toBeNull();
  });
});

describe("what is drawn of it", () => {
  it("has a sign of its own for every state, and takes what it does not know for blank", () => {
    const signs = Object.values(STATES).map(({ sign }) => sign);
    expect(new Set(signs).size).toBe(signs.length);
    expect(stateOf("never heard of")).toBe("blank");
  });

  it("puts students in the order that is asked for", () => {
    const names = (order: "time" | "name" | "wrong") =>
      inOrderOf(VIEW.rows, order).map(({ student }) => student);
    expect(names("time")[0]).toBe("Suvi Arnholt");
    expect(names("name")[0]).toBe("Bo Hallgrim");
    expect(names("wrong")).toEqual(["Bo Hallgrim", "Suvi Arnholt", "Jonas Brekkel"]);
  });

  it("counts what is not right of what was written", () => {
    expect(tallyOf(VIEW.rows, 0)).toEqual({ wrong: 0, read: 2 });
    expect(tallyOf(VIEW.rows, 1)).toEqual({ wrong: 2, read: 3 });
  });

  it("gives a cell that several things explain all their letters", () => {
    const [group] = VIEW.groups as [Schemas["ViewGroup"]];
    const twice = { ...VIEW, groups: [group, { ...group, kind: "other", label: "Other" }] };
    expect(lettersOf(twice).get("8-2")).toBe("ab");
    const [, bo] = twice.rows as [Schemas["ViewRow"], Schemas["ViewRow"]];
    expect(wordsOf(twice, bo, 1, "ab")).toMatch(/explained by: Leaf caught, Other\.$/);
    expect(wordsOf(twice, bo, 0, "")).toBe("Bo Hallgrim, valve 1: no figure; left blank.");
  });
});
