/** A reading sheet under a student's fingers: drafts, faults, questions, handing in, marks. */
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { COLUMNS, mark } from "../testing/fixtures";
import { type Handler, problem, serve, show } from "../testing/render";
import { open, RESULT, reading, SHEET } from "../testing/sheet";
import { keepPressed, placeOf } from "./kept";
import WorkPage from "./WorkPage";

const handIn = () => userEvent.click(screen.getByRole("button", { name: "Hand in" }));

describe("answering a mark", () => {
  it("is sent once, and stands beside the mark", async () => {
    const wrong = mark("position", false, "No stop given.");
    const answered = { ...wrong, answer: { text: "It was 90.", at: "2026-11-25T09:00:00Z" } };
    const with_ = (position: Schemas["MarkSays"]) => ({
      ...RESULT,
      valves: RESULT.valves.map((one) =>
        one.valve === 2 ? { ...one, marks: [...one.marks.slice(0, 2), position] } : one,
      ),
    });
    const calls = open(
      (call) =>
        call.path.endsWith("/answers") ? { status: 201, body: with_(answered) } : undefined,
      { ...SHEET, result: with_(wrong) },
    );
    // Where every mark is right there is nothing to answer.
    await screen.findByRole("button", { name: "Answer a mark of valve 2" });
    expect(screen.queryByRole("button", { name: "Answer a mark of valve 1" })).toBeNull();
    await userEvent.click(screen.getByRole("button", { name: "Answer a mark of valve 2" }));
    await userEvent.type(screen.getByLabelText("What you think"), "It was 90.");
    await userEvent.click(screen.getByRole("button", { name: "Send this answer" }));
    await screen.findByText("Your answer: It was 90.");
    expect(calls.find((call) => call.path.endsWith("/answers"))?.body).toEqual({
      valve: 2,
      part: "position",
      text: "It was 90.",
    });
    expect(screen.queryByRole("button", { name: "Answer a mark of valve 2" })).toBeNull();
  });
});

describe("a sheet that asks for more", () => {
  const MORE = {
    ...SHEET,
    asks: ["second", "nut", "shims"],
    columns: COLUMNS,
    gauge_mm: "0.0100",
  };

  it("takes a second pass, the nut and shims, and sends them with the line", async () => {
    const calls = open(
      (call) => (call.path.endsWith("/hand-in") ? { status: 201, body: RESULT } : undefined),
      MORE,
    );
    await userEvent.type(await screen.findByLabelText("Second pass, valve 1"), "0.26");
    await userEvent.type(screen.getByLabelText("Gap with the nut tight, valve 1"), "0,25");
    await userEvent.type(screen.getByLabelText("Shim to fit, valve 1"), "2.55");
    await userEvent.selectOptions(
      screen.getByLabelText("Reason for leaving it, valve 1"),
      "the next size lands no better",
    );
    await handIn();
    await waitFor(() => expect(calls.some((c) => c.path.endsWith("/hand-in"))).toBe(true));
    const sent = calls.find((call) => call.path.endsWith("/hand-in"))?.body as {
      lines: Schemas["TypedLine"][];
    };
    expect(sent.lines).toHaveLength(1);
    expect(sent.lines[0]?.further).toEqual({
      second: "0.26",
      after: "0,25",
      shim_chosen: "2.55",
      leave: "no-better",
    });
  });

  it("shows a valve only the columns that it has", async () => {
    const [first, other] = MORE.valves as [Schemas["SheetValve"], Schemas["SheetValve"]];
    open(() => undefined, { ...MORE, valves: [{ ...first, columns: ["second"] }, other] });
    await screen.findByLabelText("Shim to fit, valve 2");
    expect(screen.getByLabelText("Second pass, valve 1")).toBeTruthy();
    expect(screen.queryByLabelText("Shim to fit, valve 1")).toBeNull();
  });

  it("offers doubt only where the gauge's own doubt is told", async () => {
    open(() => undefined, MORE);
    const line = within(await screen.findByRole("group", { name: "Valve 1" }));
    await userEvent.click(line.getByLabelText("Can't tell"));
    expect((line.getByLabelText("Can't tell") as HTMLInputElement).checked).toBe(true);
    expect(screen.getByText(/nearer than that to a limit/)).toBeTruthy();
  });

  it("asks for nothing that is not asked", async () => {
    open(() => undefined);
    await reading(1);
    expect(screen.queryByLabelText(/Second pass/)).toBeNull();
    expect(screen.queryByLabelText("Can't tell")).toBeNull();
  });

  it("says which marks wait, and why", async () => {
    const result = { ...RESULT, waits: ["Reading", "Verdict"], hints: [] };
    open(() => undefined, { ...SHEET, result });
    await screen.findByText(/your reading and verdict marks and your grade are shown when/);
  });

  it("tells what was written and the marks for it", async () => {
    const [line] = RESULT.lines;
    const [marks] = RESULT.valves;
    if (!line || !marks) throw new Error("the result has a line and marks");
    const shim = mark("shim", false, "= 0.14 mm: tight.");
    open(() => undefined, {
      ...MORE,
      result: {
        ...RESULT,
        lines: [{ ...line, further: { second: "0.26", shim_chosen: "2.55" } }],
        valves: [{ ...marks, marks: [...marks.marks, shim] }],
      },
    });
    expect(await screen.findByText(/2nd pass 0\.26; shim to fit 2\.55/)).toBeTruthy();
    expect(screen.getByText("= 0.14 mm: tight.")).toBeTruthy();
    expect(screen.getByText("3/4")).toBeTruthy();
  });
});

describe("handing in", () => {
  const answers: { refuse?: object; status?: number } = {};
  const hand: Handler = (call) =>
    call.path.endsWith("/hand-in")
      ? answers.refuse && !(call.body as { confirmed: boolean }).confirmed
        ? { status: answers.status ?? 409, body: answers.refuse }
        : { status: 201, body: RESULT }
      : undefined;

  it("shows the marks at once, with reasons and what was written", async () => {
    answers.refuse = undefined as never;
    open(hand);
    await userEvent.type(await reading(1), "0.25");
    await handIn();
    await screen.findByText("of 6");
    expect(screen.getByText("No stop given.")).toBeTruthy();
    expect(screen.getByText("10 thou no stop, no verdict")).toBeTruthy();
    expect(localStorage.getItem("edrix-draft-7-5")).toBeNull();
  });

  it("asks about slips, goes back to the first, or hands in as written", async () => {
    answers.status = 409;
    answers.refuse = problem(409, "Look once more.", {
      confirm: true,
      fields: [{ path: "valve 2.reading", problem: "says 2.5 mm, 10 times too large" }],
    });
    const calls = open(hand);
    await userEvent.type(await reading(2), "2.5");
    await handIn();
    await screen.findByText(/10 times too large/);
    await userEvent.click(screen.getByRole("button", { name: "Go back and look" }));
    expect(document.activeElement).toBe(await reading(2));
    await handIn();
    await userEvent.click(await screen.findByRole("button", { name: "It is right, hand in" }));
    await screen.findByText("of 6");
    const keys = calls
      .filter((call) => call.path.endsWith("/hand-in"))
      .map((call) => (call.body as { request_key: string }).request_key);
    expect(keys).toHaveLength(3);
    expect(new Set(keys).size).toBe(1);
  });

  it("marks the faulty field and keeps what was typed", async () => {
    answers.status = 422;
    answers.refuse = problem(422, "The sheet was not handed in.", {
      fields: [{ path: "valve 2.reading", problem: "“x” is not a number" }],
    });
    open(hand);
    await userEvent.type(await reading(2), "x");
    await handIn();
    await screen.findByText("“x” is not a number");
    const field = (await reading(2)) as HTMLInputElement;
    expect(field.getAttribute("aria-invalid")).toBe("true");
    expect(field.value).toBe("x");
    expect(screen.getByText("The sheet was not handed in.")).toBeTruthy();
  });
});

describe("the list of sheets", () => {
  const row = {
    id: 5,
    title: "First measuring",
    class_name: "Class A",
    stand: "Stand 3",
    stand_id: 3,
    engine: "Pump",
    set_at: "2026-11-25T08:00:00Z",
    handed_in_at: null,
    closes_at: null,
    closed: false,
    points: null,
    out_of: null,
    waits: false,
  };

  const practice = {
    id: 8,
    title: "Pump, alone",
    engine_id: 4,
    engine_version: 1,
    engine_name: "Pump",
    level: "alone",
    box: "metric",
    minutes: null,
    run_count: null,
    fault_count: null,
    attempts: null,
    debriefs_open: true,
    away: false,
    own_runs: [{ id: 3, attempt: 1, step: 9, ended_at: "2026-11-25T09:00:00Z", outcome: "ticks" }],
  };
  const noRota = (path: string) =>
    path === "/api/my/rota" ? { body: { bookings: [], feed_since: null } } : undefined;
  /** Answers of the sheets' list as given, one class, and what is practised in it. */
  const answers = (sheets: () => { status?: number; body: unknown }, practised: object[] = []) =>
    serve((call) => {
      if (call.path === "/api/work") return sheets();
      if (call.path === "/api/classes") return { body: [{ id: 1, name: "Class A" }] };
      return noRota(call.path) ?? { body: practised };
    });

  it("tells what is to do and what was earned", async () => {
    const done = { handed_in_at: "2026-11-25T08:00:00Z", points: 21, out_of: 24 };
    const second = { ...row, id: 6, title: "Second", ...done };
    answers(() => ({ body: [row, second] }));
    show(<WorkPage />);
    await screen.findByText("to do");
    expect(screen.getByText("21 / 24")).toBeTruthy();
  });

  it("says what waits on this device", async () => {
    keepPressed(placeOf(7, row.id), "pressed-once", { title: row.title, confirmed: false });
    const second = { ...row, id: 6, title: "Second" };
    answers(() => ({ body: [row, second] }));
    show(<WorkPage />);
    const waits = await screen.findByText("waits");
    expect(waits.closest("a")?.textContent).toContain(row.title);
    expect(screen.getAllByText("to do")).toHaveLength(1);
  });

  it("puts what is due first at the top, and what is over out of the way", async () => {
    const later = { ...row, id: 7, title: "Later", closes_at: "2026-12-24T16:00:00Z" };
    const soon = { ...row, id: 8, title: "Soon", closes_at: "2026-12-01T16:00:00Z" };
    const over = [1, 2, 3, 4, 5].map((n) => ({
      ...row,
      id: 20 + n,
      title: `Over ${n}`,
      handed_in_at: "2026-11-01T08:00:00Z",
      points: n,
      out_of: 24,
    }));
    const missed = { ...row, id: 30, title: "Missed", closed: true };
    answers(() => ({ body: [row, later, missed, soon, ...over] }));
    show(<WorkPage />);
    await screen.findByText("due 1 Dec, 16:00");
    const titles = () =>
      screen.getAllByRole("link").map((link) => link.querySelector("b")?.textContent);
    await screen.findByText("closed");
    expect(titles().slice(0, 3)).toEqual(["Soon", "Later", "First measuring"]);
    expect(titles()).not.toContain("Over 5");
    await userEvent.click(screen.getByRole("button", { name: "3 earlier ones" }));
    expect(titles()).toContain("Over 5");
  });

  it("tells where to be, on what and with whom", async () => {
    const booking = {
      class_name: "Class A",
      starts_at: "2026-12-07T08:00:00Z",
      ends_at: "2026-12-07T09:45:00Z",
      place: "Stand 3",
      task: "Cold clearances",
      kind: "sheet",
      of: 5,
      others: ["Bo"],
    };
    const later = { ...booking, starts_at: "2026-12-08T08:00:00Z", others: [], of: null };
    const more = [9, 10].map((n) => ({ ...later, starts_at: `2026-12-${n}T08:00:00Z` }));
    serve((call) =>
      call.path === "/api/my/rota"
        ? { body: { bookings: [booking, later, ...more], feed_since: null } }
        : { body: [] },
    );
    show(<WorkPage />);
    const week = await screen.findByRole("region", { name: "My rota" });
    expect(within(week).getAllByRole("listitem")).toHaveLength(3);
    expect(within(week).getByText(/, with Bo/)).toBeTruthy();
    const link = within(week).getByRole("link", { name: "Cold clearances" });
    expect(link.getAttribute("href")).toBe("/sheet/5");
    expect(within(week).getByText(/1 more follow/)).toBeTruthy();
  });

  it("is not silent when it is empty", async () => {
    answers(() => ({ body: [] }));
    show(<WorkPage />);
    await screen.findByText("Nothing to do yet");
  });

  it("begins a test on purpose, once, and keeps its debrief back", async () => {
    const user = userEvent.setup();
    const test = { ...practice, level: "test", minutes: 20, attempts: 1, debriefs_open: false };
    const fresh = { ...test, id: 9, title: "Trade test", own_runs: [] };
    const calls = answers(() => ({ body: [] }), [fresh, { ...test, title: "Done test" }]);
    show(<WorkPage />);
    const [begin, again] = await screen.findAllByRole("button", { name: /^(Begin|Once more)$/ });
    expect((again as HTMLButtonElement).disabled).toBe(true);
    expect(screen.getByText(/its debrief is opened later/)).toBeTruthy();
    await user.click(begin as HTMLElement);
    expect(await screen.findByText(/its 20 minutes run from when you begin/)).toBeTruthy();
    const begun = () => calls.filter((call) => call.method === "POST");
    await user.click(screen.getByRole("button", { name: "Not yet" }));
    expect(begun()).toHaveLength(0);
    await user.click(begin as HTMLElement);
    await user.click(screen.getByRole("button", { name: "Begin the test" }));
    await waitFor(() => expect(begun().map((call) => call.path)).toEqual(["/api/practice/9/runs"]));
  });

  it("offers practice runs, to begin and to look back", async () => {
    const fresh = { ...practice, id: 9, title: "New", own_runs: [], minutes: 20 };
    answers(() => ({ body: [row] }), [practice, fresh]);
    show(<WorkPage />);
    expect(await screen.findByRole("button", { name: "Once more" })).toBeTruthy();
    expect(screen.getByRole("button", { name: "Begin" })).toBeTruthy();
    expect(screen.getByRole("link", { name: "ticks" }).getAttribute("href")).toBe("/debrief/3");
    expect(screen.getByText(/20 minutes/)).toBeTruthy();
  });

  it("keeps the sheets when practice cannot be read", async () => {
    serve((call) =>
      call.path === "/api/work"
        ? { body: [row] }
        : (noRota(call.path) ?? { status: 500, body: problem(500, "Our fault.") }),
    );
    show(<WorkPage />);
    expect(await screen.findByText("Our fault.")).toBeTruthy();
    expect(screen.getByText("First measuring")).toBeTruthy();
  });

  it("says what went wrong, and tries again", async () => {
    let down = true;
    answers(() => (down ? { status: 500, body: problem(500, "Our fault.") } : { body: [row] }));
    show(<WorkPage />);
    await screen.findByText("Our fault.");
    down = false;
    await userEvent.click(screen.getByRole("button", { name: "Try again" }));
    await screen.findByText("First measuring");
  });
});
