/** The hall, a stand's trend, and writing in its log. */
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { INES, problem, serve, show, showOnDesk } from "../testing/render";
import HallPage from "./HallPage";
import { LogForm } from "./LogForm";
import StandPage from "./StandPage";
import { TrendView } from "./TrendView";
import { STAND, TREND } from "./workshop.test-data";

const TOVE = { ...INES, id: 1, display_name: "Tove", may_teach: true };
const ENTRY: Schemas["LogEntryOut"] = {
  id: 9,
  what: "measured",
  at: "2026-11-01T09:00:00Z",
  meter: "250.0",
  cold: true,
  by: "Odd",
  note: "Monthly look.",
  source: null,
  corrects: null,
  corrected_by: null,
  written_by: "Tove",
  written_at: "2026-11-01T09:00:00Z",
  gaps: [
    {
      valve: 1,
      found_typed: "0.18 mm",
      found_mm: "0.18",
      left_typed: "0.24 mm",
      left_mm: "0.24",
      shim_mm: null,
      reason: "",
    },
  ],
};

describe("the hall", () => {
  it("says how each stand is, in words", async () => {
    serve(() => ({
      body: [
        STAND,
        { ...STAND, id: 5, name: "Stand 6", state: "out-of-order", why: "recoil spring" },
      ],
    }));
    show(<HallPage />, { person: TOVE });
    const table = await screen.findByRole("table", { name: "Stands" });
    expect(within(table).getByText("out of order")).toBeTruthy();
    expect(within(table).getByText("recoil spring")).toBeTruthy();
    expect(screen.getByText("1 of 2 ready")).toBeTruthy();
  });
});

describe("a stand", () => {
  it("of other classes does not show its log", async () => {
    const calls = serve(() => ({ body: [{ ...STAND, mine: false }] }));
    show(<StandPage />, { person: TOVE, path: "/stand/4", route: "/stand/:standId" });
    expect(await screen.findByText(/Its logbook is open to the instructors there/)).toBeTruthy();
    expect(calls.every((call) => call.path.endsWith("/stands"))).toBe(true);
  });
});

describe("a trend", () => {
  it("tells what to do first, and every figure to those who listen", () => {
    showOnDesk(<TrendView trend={TREND} />, { person: TOVE });
    expect(screen.getByText(/exhaust 1 first/)).toBeTruthy();
    expect(screen.getByText("Runs away from its siblings.")).toBeTruthy();
    expect(
      screen.getByRole("img", {
        name: /exhaust 1: closes 10 µm in 100 h.*at the earliest at 585 h, expected at 700 h/,
      }),
    ).toBeTruthy();
    expect(
      screen.getAllByRole("img", { name: "300 h, found 0.18 mm, left at 0.24 mm" }),
    ).toHaveLength(2);
  });
});

describe("writing in the log", () => {
  const table = { engine: { valves: [{ number: 1, role: "exhaust" }] } };
  const form = (corrects: typeof ENTRY | null) =>
    showOnDesk(<LogForm stand={STAND} open corrects={corrects} onClose={() => undefined} />, {
      person: TOVE,
    });

  it("sends what was typed, and only valves with a figure", async () => {
    const calls = serve((call) =>
      call.method === "POST" ? { status: 201, body: ENTRY } : { body: table },
    );
    form(null);
    await userEvent.type(await screen.findByLabelText("Meter, h"), "310");
    await userEvent.type(await screen.findByLabelText("Gap found at valve 1"), "0,21");
    await userEvent.click(screen.getByRole("button", { name: "Keep the entry" }));
    await waitFor(() => expect(calls.some((call) => call.method === "POST")).toBe(true));
    const body = calls.find((call) => call.method === "POST")?.body as Schemas["LogEntryIn"];
    expect(body).toMatchObject({ what: "measured", meter: "310", at: null, corrects: null });
    expect(body.gaps).toEqual([
      { valve: 1, found: "0,21", left: "", shim: "", reason: "", unit: "mm" },
    ]);
  });

  it("a correction begins with what it corrects", async () => {
    const calls = serve((call) =>
      call.method === "POST" ? { status: 201, body: ENTRY } : { body: table },
    );
    form(ENTRY);
    expect(await screen.findByDisplayValue("0.18 mm")).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Keep the correction" }));
    await waitFor(() => expect(calls.some((call) => call.method === "POST")).toBe(true));
    const body = calls.find((call) => call.method === "POST")?.body as Schemas["LogEntryIn"];
    expect(body).toMatchObject({ corrects: 9, by: "Odd", meter: "250.0" });
  });

  it("a refusal keeps what was typed", async () => {
    serve((call) =>
      call.method === "POST"
        ? {
            status: 422,
            body: problem(422, "The entry was not kept.", {
              fields: [{ path: "meter", problem: "120 h lies behind 140 h" }],
            }),
          }
        : { body: table },
    );
    form(null);
    await userEvent.type(await screen.findByLabelText("Meter, h"), "120");
    await userEvent.click(screen.getByRole("button", { name: "Keep the entry" }));
    expect(await screen.findByText(/lies behind 140 h/)).toBeTruthy();
    expect(screen.getByDisplayValue("120")).toBeTruthy();
  });
});
