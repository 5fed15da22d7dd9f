/** The rubric under an instructor's fingers, and the grade that comes of it. */
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { GradeCard } from "../marks/GradeCard";
import { type Call, type Handler, INES, problem, serve, show } from "../testing/render";
import RubricPage from "./RubricPage";

const TOVE = { ...INES, id: 1, display_name: "Tove", may_teach: true };
const PLAIN: Schemas["RubricFieldsOut"] = {
  items: [
    { part: "reading", weight: 1, least_percent: 0 },
    { part: "verdict", weight: 1, least_percent: 0 },
  ],
  pass_percent: 60,
  zero_at_mm: null,
  minutes: null,
};
const SHEET: Schemas["RubricOut"] = {
  sheet_id: 3,
  title: "First measuring",
  tolerance_mm: 0.03,
  asks: [],
  number: 0,
  made_by: null,
  made_at: null,
  rubric: PLAIN,
  templates: [
    { name: "plain", title: "Every mark alike", says: "One point each.", rubric: PLAIN },
    {
      name: "measuring",
      title: "Measuring counts most",
      says: "Readings first.",
      rubric: {
        items: [
          { part: "reading", weight: 5, least_percent: 0 },
          { part: "safety", weight: 1, least_percent: 100 },
        ],
        pass_percent: 70,
        zero_at_mm: 0.09,
        minutes: null,
      },
    },
  ],
  parts: [
    { part: "reading", label: "Reading", about: "within the tolerance of the key" },
    { part: "verdict", label: "Verdict", about: "tight, within or loose" },
    { part: "safety", label: "Safety lists", about: "both ticked" },
  ],
};
const GRADE: Schemas["GradeOut"] = {
  percent: 65.6,
  passed: false,
  pass_percent: 60,
  fails: ["Safety lists"],
  waived: [],
  items: [
    {
      part: "reading",
      label: "Reading",
      weight: 3,
      share: 0.875,
      percent: 65.625,
      least_percent: 0,
      says: "7 of 8 within",
    },
    {
      part: "safety",
      label: "Safety lists",
      weight: 1,
      share: 0,
      percent: 0,
      least_percent: 100,
      says: "list before turning not ticked",
    },
  ],
};
const LOOK: Schemas["RubricLookOut"] = {
  sample: GRADE,
  rows: [
    {
      hand_in_id: 9,
      student: "Marit",
      before_percent: 95.8,
      after_percent: 65.6,
      before_passed: true,
      after_passed: false,
    },
  ],
};

function open(handler: Handler = () => undefined): Call[] {
  const calls = serve((call) => {
    const own = handler(call);
    if (own) return own;
    if (call.path.endsWith("/preview")) return { body: LOOK };
    return { body: SHEET };
  });
  show(<RubricPage />, { path: "/board/3/rubric", route: "/board/:sheetId/rubric", person: TOVE });
  return calls;
}

describe("a rubric", () => {
  it("shows what it makes of a sample and of everybody before it counts", async () => {
    const calls = open();
    const rows = await screen.findByRole("table", { name: /What it makes of the sheets/ });
    expect(within(rows).getByText("95.8 %")).toBeTruthy();
    expect(within(rows).getByText("now fails")).toBeTruthy();
    expect(calls.every((call) => call.method === "GET" || call.path.endsWith("/preview"))).toBe(
      true,
    );
  });

  it("begins from a template, and says what a share of the whole is", async () => {
    open();
    await userEvent.click(await screen.findByRole("button", { name: "Measuring counts most" }));
    const weight = screen.getByLabelText("Weight of Reading") as HTMLInputElement;
    expect(weight.value).toBe("5");
    expect(screen.getByText("83.3 %")).toBeTruthy();
    expect(screen.getByText(/students see it only when you release grades/)).toBeTruthy();
  });

  it("asks the server at each change, and sends what was typed", async () => {
    const calls = open((call) =>
      call.method === "POST" && call.path.endsWith("/rubric")
        ? { status: 201, body: { ...SHEET, number: 1 } }
        : undefined,
    );
    const weight = await screen.findByLabelText("Weight of Reading");
    await userEvent.clear(weight);
    await userEvent.type(weight, "3");
    await userEvent.type(screen.getByLabelText("Weight of Safety lists"), "1");
    await userEvent.type(screen.getByLabelText("Least of Safety lists, in per cent"), "100");
    await waitFor(() => {
      const asked = calls.filter((call) => call.path.endsWith("/preview")).at(-1)?.body;
      expect(asked).toMatchObject({ items: [{ weight: 3 }, {}, { least_percent: 100 }] });
    });
    const button = screen.getByRole("button", { name: "Save rubric" });
    await waitFor(() => expect((button as HTMLButtonElement).disabled).toBe(false));
    await userEvent.click(button);
    await screen.findByText("elsewhere");
    const sent = calls.find((call) => call.path.endsWith("/rubric") && call.method === "POST");
    expect(sent?.body).toMatchObject({ based_on: 0, rubric: { pass_percent: 60 } });
  });

  it("says what cannot be weighed, and keeps what was typed", async () => {
    open((call) =>
      call.path.endsWith("/preview")
        ? { status: 422, body: problem(422, "This rubric can't be used: weight of reading.") }
        : undefined,
    );
    await screen.findByText("This rubric can't be used: weight of reading.");
    expect((screen.getByLabelText("Weight of Reading") as HTMLInputElement).value).toBe("1");
  });

  it("weighs no column that the sheet does not ask", async () => {
    open();
    await screen.findByLabelText("Weight of Reading");
    expect(screen.queryByLabelText("Weight of Shim")).toBeNull();
  });
});

describe("a grade", () => {
  it("shows its whole arithmetic when it is asked for", async () => {
    serve(() => undefined);
    show(<GradeCard grade={GRADE} />);
    expect(screen.getByText("Missing: Safety lists.")).toBeTruthy();
    await userEvent.click(screen.getByText("How it is worked out"));
    const items = screen.getAllByRole("listitem").map((item) => item.textContent);
    expect(items[0]).toBe("Reading87.5 % × 3/4 = 65.6 %7 of 8 within");
  });
});
