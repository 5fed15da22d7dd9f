/** Readings taken in: a file that is shown before it is kept, and paper typed with digits only. */
import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { COLUMNS } from "../testing/fixtures";
import { type Call, type Handler, INES, problem, serve, show } from "../testing/render";
import IntakePage from "./IntakePage";
import { columnsOf, isFull, readingOf, sheetsOf } from "./paper";

const TOVE = { ...INES, id: 1, display_name: "Tove", may_teach: true };
const blank = {
  lines_begun: 0,
  hand_in_id: null,
  handed_in_at: null,
  points: null,
  out_of: null,
  percent: null,
  passed: null,
  open_answers: 0,
};
const BOARD: Schemas["BoardOut"] = {
  id: 3,
  title: "First measuring",
  class_id: 2,
  class_name: "Class A",
  stand: "Stand 3",
  engine: "Pump",
  tolerance_mm: "0.0300",
  valves: 2,
  valve_numbers: [1, 2],
  rubric_number: 0,
  pass_percent: 60,
  waits: false,
  stale: "",
  columns: COLUMNS,
  stops: [
    { stop: 1, crank_deg: 0 },
    { stop: 2, crank_deg: 360 },
  ],
  rows: [
    { ...blank, student_id: 7, display_name: "Bo" },
    { ...blank, student_id: 8, display_name: "Ines" },
    { ...blank, student_id: 9, display_name: "Marit", hand_in_id: 4 },
  ],
};
const SEEN: Schemas["ImportPreviewOut"] = {
  sheet_id: 3,
  title: "First measuring",
  file_name: "in.csv",
  kind: "csv",
  notes: ["The file is not UTF-8."],
  columns: [
    { title: "Name", means: "the student's name", unit: null, note: "" },
    { title: "Gap (mm)", means: "the reading", unit: "mm", note: "" },
    { title: "Weather", means: null, unit: null, note: "not used" },
  ],
  rows: 5,
  refused_rows: 3,
  refused: [
    { row: 4, who: "Nobody", problems: ["“Nobody” is no student of this class"] },
    { row: 5, who: "Nobody", problems: ["“Nobody” is no student of this class"] },
    { row: 6, who: "Bo", problems: ["“Gap” is a formula"] },
  ],
  students: [
    {
      student_id: 7,
      student: "Bo",
      lines: 1,
      readings: "1: 0.25 mm",
      missing: [2],
      left_out: "a row is refused",
    },
    {
      student_id: 8,
      student: "Ines",
      lines: 1,
      readings: "1: 0.25 mm",
      missing: [2],
      left_out: null,
    },
  ],
  doubts: [],
  takes: 1,
  digest: "d".repeat(32),
};

function open(handler: Handler, way = "file"): Call[] {
  const calls = serve((call) => {
    const own = handler(call);
    if (own) return own;
    return call.path === "/api/sheets/3/board" ? { body: BOARD } : undefined;
  });
  show(<IntakePage />, {
    path: `/board/3/take-in?way=${way}`,
    route: "/board/:sheetId/take-in",
    person: TOVE,
  });
  return calls;
}

/** A worker's job as it is asked for, and as it is found to be at the first look. */
function jobOf(call: Call, then: object) {
  const job = { id: 7, state: "waiting", progress: {}, result: {}, says: "", faults: [] };
  if (call.path.endsWith("/import")) return { status: 202, body: { ...job, is_over: false } };
  return call.path === "/api/jobs/7" ? { body: { ...job, is_over: true, ...then } } : undefined;
}

async function choose() {
  await screen.findByText(/Choose a/);
  // antd hides the file field of its drop zone from view, and from the names of things.
  const picker = document.querySelector("input[type=file]") as HTMLInputElement;
  await userEvent.upload(picker, new File(["Name;Gap\n"], "in.csv", { type: "text/csv" }));
}

describe("a file of readings", () => {
  it("is shown column by column and row by row, and kept only when told so", async () => {
    const calls = open((call) =>
      call.path.endsWith("/preview")
        ? { body: SEEN }
        : jobOf(call, { state: "done", result: { takes: 1 } }),
    );
    await choose();
    await screen.findByText("in.csv: 5 rows, 3 refused");
    const columns = within(screen.getByRole("list", { name: "How each column is understood" }));
    expect(columns.getAllByRole("listitem").map((item) => item.textContent)).toEqual([
      "Namethe student's name",
      "Gap (mm)the reading, mm",
      "Weathernot used",
    ]);
    expect(screen.getByText("4–5")).toBeTruthy();
    expect(screen.getByText("“Gap” is a formula")).toBeTruthy();
    expect(screen.getByText("Left out: a row is refused.")).toBeTruthy();
    expect(calls.some((call) => call.path.endsWith("/import"))).toBe(false);
    await userEvent.click(screen.getByRole("button", { name: "Take in 1 sheet and mark it" }));
    await screen.findByText("1 sheet is taken in and marked");
    const sent = calls.find((call) => call.path.endsWith("/import"))?.body;
    expect(sent).toContain(SEEN.digest);
  });

  it("asks about readings that look like slips before it takes them in", async () => {
    const doubts = [{ who: "Ines, valve 1", asks: "says 14 mm: did you mean thou?" }];
    const calls = open((call) =>
      call.path.endsWith("/preview")
        ? { body: { ...SEEN, doubts } }
        : jobOf(call, { state: "done", result: { takes: 1 } }),
    );
    await choose();
    await screen.findByText(/did you mean thou/);
    const take = screen.getByRole("button", { name: "Take in 1 sheet and mark it" });
    expect((take as HTMLButtonElement).disabled).toBe(true);
    await userEvent.click(screen.getByRole("checkbox", { name: /stand so on the paper/ }));
    await userEvent.click(take);
    await screen.findByText("1 sheet is taken in and marked");
    const sent = String(calls.find((call) => call.path.endsWith("/import"))?.body);
    expect(sent).toContain("confirmed");
  });

  it("says why a file is nothing, and leaves the way open for another", async () => {
    open((call) =>
      call.path.endsWith("/preview")
        ? { status: 422, body: problem(422, "This file is a zip of another program.") }
        : undefined,
    );
    await choose();
    await screen.findByText("This file is a zip of another program.");
    expect(screen.getByText("Choose another file")).toBeTruthy();
  });

  it("takes nothing where nothing can be taken", async () => {
    open((call) => (call.path.endsWith("/preview") ? { body: { ...SEEN, takes: 0 } } : undefined));
    await choose();
    const button = await screen.findByRole("button", { name: /Take in 0/ });
    expect((button as HTMLButtonElement).disabled).toBe(true);
  });

  it("says what undid all of it on the way", async () => {
    open((call) =>
      call.path.endsWith("/preview")
        ? { body: SEEN }
        : jobOf(call, { state: "failed", says: "Bo has handed in by now." }),
    );
    await choose();
    await userEvent.click(await screen.findByRole("button", { name: /Take in 1/ }));
    await screen.findByText("Bo has handed in by now.");
    expect(screen.getByRole("button", { name: /Take in 1/ })).toBeTruthy();
  });

  it("shows how far it is", async () => {
    open((call) =>
      call.path.endsWith("/preview")
        ? { body: SEEN }
        : jobOf(call, { is_over: false, progress: { done: 8, of: 16 } }),
    );
    await choose();
    await userEvent.click(await screen.findByRole("button", { name: /Take in 1/ }));
    await screen.findByText("8 of 16 readings marked and taken in");
  });

  it("says when the class changed after the look", async () => {
    open((call) =>
      call.path.endsWith("/preview")
        ? { body: SEEN }
        : call.path.endsWith("/import")
          ? { status: 409, body: problem(409, "What this file would give has changed.") }
          : undefined,
    );
    await choose();
    await userEvent.click(await screen.findByRole("button", { name: /Take in 1/ }));
    await screen.findByText("What this file would give has changed.");
  });
});

describe("the paper grid", () => {
  beforeEach(() => localStorage.clear());
  const cell = (name: string) => screen.findByLabelText(name);

  it("leads on with every two digits, through rows and students", async () => {
    open(() => undefined, "paper");
    await userEvent.click(await cell("Gap of valve 1, Bo"));
    await userEvent.keyboard("342519");
    expect(((await cell("Gap of valve 2, Bo")) as HTMLInputElement).value).toBe("25");
    expect(((await cell("Gap of valve 1, Ines")) as HTMLInputElement).value).toBe("19");
    expect(document.activeElement).toBe(await cell("Gap of valve 2, Ines"));
    // The last cell of all: there is nothing to lead on to.
    await userEvent.keyboard("{Enter}");
    expect(document.activeElement).toBe(await cell("Gap of valve 2, Ines"));
    await userEvent.keyboard("-");
    expect(document.activeElement).toBe(await cell("Gap of valve 1, Ines"));
    await userEvent.keyboard("{ArrowUp}");
    expect(document.activeElement).toBe(await cell("Gap of valve 1, Bo"));
  });

  it("leaves out who has handed in", async () => {
    open(() => undefined, "paper");
    await cell("Gap of valve 1, Bo");
    expect(screen.queryByText("Marit")).toBeNull();
  });

  it("offers the further columns that the sheet asks for", async () => {
    open(() => undefined, "paper");
    await cell("Gap of valve 1, Bo");
    expect(screen.queryByLabelText("2nd pass of valve 1, Bo")).toBeNull();
    await userEvent.click(screen.getByRole("switch", { name: /^Type 2nd pass, Nut tight/ }));
    await userEvent.click(await cell("Gap of valve 1, Bo"));
    await userEvent.keyboard("3435");
    expect(((await cell("2nd pass of valve 1, Bo")) as HTMLInputElement).value).toBe("35");
  });

  it("asks, sends what was typed, and begins afresh", async () => {
    const calls = open(
      (call) =>
        call.path.endsWith("/paper") ? { status: 201, body: { sheet_id: 3, taken: 1 } } : undefined,
      "paper",
    );
    await userEvent.click(await cell("Gap of valve 1, Bo"));
    await userEvent.keyboard("3425");
    await userEvent.click(screen.getByRole("button", { name: "Take in 1 sheet" }));
    await screen.findByText(/All 2 gaps are typed/);
    await userEvent.click(screen.getByRole("button", { name: "Take in and mark" }));
    await screen.findByText("1 sheet is taken in and marked");
    expect(calls.find((call) => call.path.endsWith("/paper"))?.body).toEqual({
      confirmed: false,
      not_asked: ["crank_deg", "verdict"],
      sheets: [
        {
          student_id: 7,
          lines: [
            { valve: 1, reading: "0.34", unit: "mm" },
            { valve: 2, reading: "0.25", unit: "mm" },
          ],
        },
      ],
    });
    await waitFor(() => expect(localStorage.getItem("edrix.form.1.paper-3")).toBeNull());
  });

  it("asks about figures that look like slips, at their cells", async () => {
    const fields = [{ path: "student 7.valve 2.reading", problem: "no gap at all?" }];
    const calls = open((call) => {
      if (!call.path.endsWith("/paper")) return undefined;
      return (call.body as { confirmed: boolean }).confirmed
        ? { status: 201, body: { sheet_id: 3, taken: 1 } }
        : { status: 409, body: problem(409, "Slips?", { fields, confirm: true }) };
    }, "paper");
    fireEvent.change(await cell("Gap of valve 2, Bo"), { target: { value: "0" } });
    await userEvent.click(screen.getByRole("button", { name: "Take in 1 sheet" }));
    await userEvent.click(await screen.findByRole("button", { name: "Take in and mark" }));
    const sure = await screen.findByRole("button", { name: /They stand so on the paper/ });
    expect((await cell("Gap of valve 2, Bo")).title).toBe("no gap at all?");
    await userEvent.click(sure);
    await screen.findByText("1 sheet is taken in and marked");
    expect(calls.filter((call) => call.path.endsWith("/paper"))).toHaveLength(2);
  });

  it("keeps what was typed on this device, and shows which cell is refused", async () => {
    const fields = [{ path: "student 7.valve 2.reading", problem: "is not a number" }];
    open(
      (call) =>
        call.path.endsWith("/paper")
          ? { status: 422, body: problem(422, "Nothing was taken in.", { fields }) }
          : undefined,
      "paper",
    );
    fireEvent.change(await cell("Gap of valve 2, Bo"), { target: { value: "3x" } });
    await userEvent.click(screen.getByRole("button", { name: "Take in 1 sheet" }));
    await userEvent.click(await screen.findByRole("button", { name: "Take in and mark" }));
    await screen.findByText("Nothing was taken in.");
    const faulty = await cell("Gap of valve 2, Bo");
    expect(faulty.getAttribute("aria-invalid")).toBe("true");
    expect(faulty.title).toBe("is not a number");
    expect(localStorage.getItem("edrix.form.1.paper-3")).toContain("3x");
  });
});

const ALL = { stops: true, verdicts: true, further: [] };

describe("what digits mean", () => {
  it.each([
    ["35", "mm", "0.35"],
    ["5", "mm", "0.05"],
    ["0.355", "mm", "0.355"],
    ["0,35", "mm", "0,35"],
    ["14", "thou", "14"],
    ["14 thou", "mm", "14 thou"],
  ])("%s in %s is %s", (typed, unit, reading) => {
    expect(readingOf(typed, unit)).toBe(reading);
  });

  it("knows when a cell is full", () => {
    const [gap, stop, verdict] = columnsOf([1], ALL);
    if (!gap || !stop || !verdict) throw new Error("three columns");
    expect([isFull(gap, "3", 2), isFull(gap, "35", 2), isFull(gap, "0.35", 2)]).toEqual([
      false,
      true,
      false,
    ]);
    // Twelve stops have two digits: no single one is whole.
    expect([isFull(stop, "1", 2), isFull(stop, "1", 12)]).toEqual([true, false]);
    expect([isFull(verdict, "5", 2), isFull(verdict, "7", 2)]).toEqual([true, false]);
  });

  it("takes the further columns of a sheet: gaps by two digits, shims as written, choices by figure", () => {
    const columns = columnsOf([1], { stops: false, verdicts: false, further: COLUMNS });
    const cells = {
      "7-1-reading": "34",
      "7-1-second": "36",
      "7-1-shim_chosen": "2.55",
      "7-1-leave": "1",
    };
    expect(sheetsOf(cells, [7], columns, "mm", [])[0]?.lines).toEqual([
      {
        valve: 1,
        reading: "0.34",
        unit: "mm",
        further: { second: "0.36", shim_chosen: "2.55", leave: "no-better" },
      },
    ]);
    const [, second, , shim, leave] = columns;
    if (!second || !shim || !leave) throw new Error("five columns");
    expect([isFull(second, "36", 2), isFull(shim, "25", 2)]).toEqual([true, false]);
    // Choices are typed by the figures that stand on the paper.
    expect(["1", "3"].map((typed) => isFull(leave, typed, 2))).toEqual([true, false]);
  });

  it("gives stops their degrees and verdicts their words", () => {
    const columns = columnsOf([1, 2], ALL);
    const cells = { "7-1-reading": "34", "7-1-stop": "2", "7-1-verdict": "5", "8-2-stop": "180" };
    expect(sheetsOf(cells, [7, 8, 9], columns, "mm", BOARD.stops)).toEqual([
      {
        student_id: 7,
        lines: [{ valve: 1, reading: "0.34", unit: "mm", crank_deg: 360, verdict: "within" }],
      },
      { student_id: 8, lines: [{ valve: 2, reading: "", unit: "mm", crank_deg: 180 }] },
    ]);
  });
});
