/** The instructor's places: board, classes, stands and keys, students. */

import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { Passcodes } from "../classes/Passcodes";
import { StandsTab } from "../classes/StandsTab";
import { StudentsTab } from "../classes/StudentsTab";
import { CAUTIONS } from "../testing/fixtures";
import { INES, problem, serve, show, showOnDesk } from "../testing/render";
import BoardPage from "./BoardPage";

const NO_FINDINGS = { rows: [], kinds: [], doubts: [] };
const TOVE = { ...INES, id: 1, display_name: "Tove", may_teach: true };

describe("the board", () => {
  const row = { student_id: 1, display_name: "Bo", lines_begun: 0, hand_in_id: null };
  const blank = {
    handed_in_at: null,
    points: null,
    out_of: null,
    percent: null,
    passed: null,
    open_answers: 0,
  };
  const board = {
    id: 3,
    title: "First measuring",
    class_id: 2,
    class_name: "Class A",
    stand: "Stand 3",
    engine: "Pump",
    tolerance_mm: "0.0300",
    valves: 8,
    valve_numbers: [1, 2],
    rubric_number: 0,
    pass_percent: 60,
    waits: false,
    columns: [],
    stops: [],
    rows: [
      { ...row, ...blank },
      { ...row, ...blank, student_id: 2, display_name: "Ines", lines_begun: 3 },
      {
        ...row,
        student_id: 3,
        display_name: "Marit",
        hand_in_id: 9,
        handed_in_at: "2026-11-25T08:00:00Z",
        points: 20,
        out_of: 24,
        percent: 83.3,
        passed: true,
        open_answers: 0,
      },
    ],
  };

  it("tells who has not begun, who measures and who is done", async () => {
    serve((call) => ({ body: call.path.endsWith("/findings") ? NO_FINDINGS : board }));
    show(<BoardPage />, { path: "/board/3", route: "/board/:sheetId", person: TOVE });
    expect(await screen.findAllByText("not begun")).toBeTruthy();
    expect(screen.getByText("measuring, 3 of 8 valves")).toBeTruthy();
    expect(screen.getByText("20/24")).toBeTruthy();
    const way = screen.getByRole("link", { name: "Open sheet of Marit" });
    expect(way.getAttribute("href")).toBe("/hand-in/9");
    const away = screen.getByRole("navigation", { name: "Download" });
    const files = within(away).getAllByRole("link");
    expect(files.map((link) => link.getAttribute("href"))).toContain("/api/sheets/3/marks.csv");
  });

  it("shows the way when the class is empty", async () => {
    serve((call) => ({
      body: call.path.endsWith("/findings") ? NO_FINDINGS : { ...board, rows: [] },
    }));
    show(<BoardPage />, { path: "/board/3", route: "/board/:sheetId", person: TOVE });
    await screen.findByText(/Nobody is in this class yet/);
  });
});

describe("students", () => {
  const students = [{ id: 4, display_name: "Bo Hallgrim", sign_in_name: "bo.hallgrim" }];
  const found = { id: 2, name: "Class A", away: false, students, left: [] };
  const open = () => showOnDesk(<StudentsTab found={found} />, { person: TOVE });

  it("keeps a list that was refused, and says which lines are wrong", async () => {
    const fields = [{ path: "line 2", problem: "has no name in its first column" }];
    serve((call) =>
      call.path.endsWith("/preview")
        ? { body: [] }
        : { status: 422, body: problem(422, "Nobody was added.", { fields }) },
    );
    open();
    await userEvent.click(screen.getByRole("button", { name: "Add students" }));
    const box = screen.getByLabelText("Names") as HTMLTextAreaElement;
    await userEvent.type(box, "Pim{enter}12");
    await userEvent.click(screen.getByRole("button", { name: "Add" }));
    await screen.findByText("line 2");
    expect(box.value).toBe("Pim\n12");
  });

  const line = (number: number, name: string, more: object = {}) => ({
    number,
    display_name: name,
    sign_in_name: name.toLowerCase(),
    joins: false,
    says: "",
    problem: "",
    ...more,
  });

  it("shows how a list is read before anybody is added", async () => {
    const calls = serve(() => ({
      body: [line(1, "Pim"), line(2, "", { problem: "has no name in it" })],
    }));
    open();
    await userEvent.click(screen.getByRole("button", { name: "Add students" }));
    await userEvent.type(screen.getByLabelText("Names"), "Pim{enter}12");
    const read = within(await screen.findByRole("table", { name: "How the list is read" }));
    expect(read.getByText("pim")).toBeTruthy();
    expect(read.getByText("Line 2 has no name in it")).toBeTruthy();
    const button = screen.getByRole("button", { name: "1 line to put right" });
    expect((button as HTMLButtonElement).disabled).toBe(true);
    expect(calls.every((call) => call.path.endsWith("/roll/preview"))).toBe(true);
  });

  it("keeps new passcodes on the class's page until they are taken", async () => {
    const added = { id: 9, display_name: "Pim", sign_in_name: "pim", passcode: "abcd-efgh" };
    const old = { ...added, id: 10, display_name: "Old", sign_in_name: "old", passcode: null };
    serve((call) =>
      call.path.endsWith("/preview")
        ? { body: [line(1, "Pim"), line(2, "Old", { joins: true })] }
        : { status: 201, body: [added, old] },
    );
    showOnDesk(
      <>
        <Passcodes classId={2} />
        <StudentsTab found={found} />
      </>,
      { person: TOVE },
    );
    await userEvent.click(screen.getByRole("button", { name: "Add students" }));
    await userEvent.type(screen.getByLabelText("Names"), "Pim");
    await userEvent.click(await screen.findByRole("button", { name: "Add 2 students" }));
    const codes = within(await screen.findByRole("region", { name: "Passcodes" }));
    expect(codes.getByText("abcd-efgh")).toBeTruthy();
    expect(codes.getByText("has one already")).toBeTruthy();
    await userEvent.click(codes.getByRole("button", { name: "I have them" }));
    await userEvent.click(screen.getByRole("button", { name: "Keep them here" }));
    expect(codes.getByText("abcd-efgh")).toBeTruthy();
    await userEvent.click(codes.getByRole("button", { name: "I have them" }));
    await userEvent.click(screen.getByRole("button", { name: "Take them off the page" }));
    expect(screen.queryByText("abcd-efgh")).toBeNull();
  });
});

describe("stands and keys", () => {
  const valve = { cylinder: 1, role: "intake", low_mm: 0.22, high_mm: 0.28 };
  const stand = {
    id: 6,
    name: "Stand 3",
    engine_id: 1,
    engine_version: 1,
    engine_name: "Pump",
    away: false,
    valves: [
      { ...valve, number: 1 },
      { ...valve, number: 2 },
    ],
    key: null,
  };

  it("sends every valve with the unit, and tells the fault at its valve", async () => {
    const fields = [{ path: "valve 2", problem: "has no gap; measure it" }];
    const calls = serve((call) => {
      if (call.method === "POST") {
        return { status: 422, body: problem(422, "The key was not saved.", { fields }) };
      }
      if (call.path.includes("/cautions")) return { body: CAUTIONS };
      return { body: call.path === "/api/engines" ? [] : [stand] };
    });
    showOnDesk(<StandsTab classId={2} />, { person: TOVE });
    await userEvent.click(await screen.findByRole("button", { name: "Enter the key" }));
    await userEvent.type(screen.getByLabelText("Gap of valve 1"), "10");
    // The toolkit hides the radio itself under its label.
    fireEvent.click(screen.getByLabelText("thou"));
    expect(screen.getByText("0.25 mm")).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Save key" }));
    await screen.findByText("has no gap; measure it");
    await waitFor(() => expect(calls.some((call) => call.method === "POST")).toBe(true));
    expect(calls.find((call) => call.method === "POST")?.body).toEqual({
      gaps: [
        { valve: 1, gap: "10", unit: "thou", closing: "" },
        { valve: 2, gap: "", unit: "thou", closing: "" },
      ],
      uncertainty: "",
      uncertainty_unit: "thou",
      meter: "",
      confirmed: false,
    });
  });

  it("shows what is tight or loose as the server judged it", async () => {
    const gap = { typed: "0.19", unit: "mm", gap_mm: "0.1900", verdict: "tight" };
    const key = { number: 2, made_at: "2026-11-25T08:00:00Z", gaps: [{ ...gap, valve: 1 }] };
    serve((call) => ({ body: call.path === "/api/engines" ? [] : [{ ...stand, key }] }));
    showOnDesk(<StandsTab classId={2} />, { person: TOVE });
    await screen.findByText("tight");
    expect(screen.getByText("0.19 mm")).toBeTruthy();
    expect(screen.getByText(/Key 2/)).toBeTruthy();
  });
});
