/** Marks put right: an override with its reason, and re-marking with a newer key. */
import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { mark, ROCKER } from "../testing/fixtures";
import { INES, problem, serve, show } from "../testing/render";
import HandInPage from "./HandInPage";
import { ReMark } from "./ReMark";

const TOVE = { ...INES, display_name: "Tove Lindqvist", may_teach: true };
const HAND_IN: Schemas["HandInOut"] = {
  id: 7,
  sheet_id: 3,
  sheet_title: "First measuring",
  entered_by: null,
  student: "Ines Falkner",
  valves_of_engine: [
    {
      number: 1,
      cylinder: 1,
      role: "exhaust",
      label: "",
      train: ROCKER,
      low_mm: 0.32,
      high_mm: 0.38,
      says: "0.32–0.38 mm",
      says_other: "12.6–14.96 thou",
      written_in: "mm",
      columns: ["second", "after", "shim_chosen", "leave"],
    },
  ],
  record: null,
  columns: [],
  findings: [],
  result: {
    handed_in_at: "2026-11-25T08:00:00Z",
    points: 2,
    out_of: 3,
    grade: null,
    lines: [{ valve: 1, reading: "0.41", unit: "mm", crank_deg: 0, verdict: "loose", further: {} }],
    valves: [
      {
        valve: 1,
        points: 2,
        marks: [
          mark("reading", false, "Read 0.41 mm, key 0.35 mm."),
          mark("verdict", true, "Follows."),
          mark("position", true, "On its heel."),
        ],
      },
    ],
  },
};

describe("an override", () => {
  function open(answer: (body: unknown) => object) {
    const calls = serve((call) => {
      if (call.path === "/api/hand-ins/7") return { body: HAND_IN };
      if (call.path === "/api/hand-ins/7/decisions") return answer(call.body) as never;
      return undefined;
    });
    show(<HandInPage />, { path: "/hand-in/7", route: "/hand-in/:handInId", person: TOVE });
    return calls;
  }

  it("begins at the mark that was counted wrong, wants a reason, and is shown with it", async () => {
    const user = userEvent.setup();
    const decided = { by: "Tove Lindqvist", at: "2026-11-25T09:00:00Z", reason: "Warm stand." };
    const valve = HAND_IN.result.valves[0];
    const calls = open(() => ({
      body: {
        ...HAND_IN,
        result: {
          ...HAND_IN.result,
          points: 3,
          valves: [
            { ...valve, points: 3, marks: [{ ...mark("reading", true, "Read."), decided }] },
          ],
        },
      },
    }));
    await user.click(await screen.findByRole("button", { name: /Override mark of valve/ }));
    const dialog = within(screen.getByRole("dialog"));
    const does = dialog.getByRole("button", { name: "Override mark" });
    await user.click(does);
    expect(await dialog.findByText("Give the reason")).toBeTruthy();
    expect((dialog.getByLabelText("Reading") as HTMLInputElement).checked).toBe(true);
    await user.type(dialog.getByLabelText("Because"), "Warm stand.");
    await user.click(does);
    expect(await screen.findByText(/Counted right by Tove Lindqvist/)).toBeTruthy();
    expect(calls.find((call) => call.path.endsWith("/decisions"))?.body).toEqual({
      valve: 1,
      part: "reading",
      right: true,
      reason: "Warm stand.",
    });
  });

  it("keeps what was typed when it is refused", async () => {
    const user = userEvent.setup();
    open(() => ({ status: 422, body: problem(422, "A decision needs its reason.") }));
    await user.click(await screen.findByRole("button", { name: /Override mark of valve/ }));
    const dialog = within(screen.getByRole("dialog"));
    // The toolkit hides the radio itself under its label.
    fireEvent.click(dialog.getByLabelText("Verdict"));
    expect((dialog.getByLabelText("Count it wrong") as HTMLInputElement).checked).toBe(true);
    await user.type(dialog.getByLabelText("Because"), "Said so aloud");
    await user.click(dialog.getByRole("button", { name: "Override mark" }));
    expect(await dialog.findByText("A decision needs its reason.")).toBeTruthy();
    expect((dialog.getByLabelText("Because") as HTMLTextAreaElement).value).toBe("Said so aloud");
  });
});

describe("re-marking", () => {
  const SEEN: Schemas["RemarkOut"] = {
    sheet_id: 3,
    key_number: 1,
    newest_key_number: 2,
    newest_made_at: "2026-11-25T08:00:00Z",
    hand_ins: 4,
    may_take_back: false,
    moves: [{ hand_in_id: 7, student: "Ines Falkner", before: 20, after: 23 }],
  };
  function open(seen: object) {
    const calls = serve((call) =>
      call.path === "/api/sheets/3/remark" ? { body: seen } : undefined,
    );
    show(<ReMark sheetId={3} />, { path: "/board/3", route: "/board/:sheetId", person: TOVE });
    return calls;
  }

  it("tells whose marks move before it asks, and names the key that was seen", async () => {
    const user = userEvent.setup();
    const calls = open(SEEN);
    expect(await screen.findByText("+3")).toBeTruthy();
    await user.click(screen.getByRole("button", { name: "Re-mark with key 2" }));
    expect(screen.getByText(/1 of 4 change/)).toBeTruthy();
    await user.click(screen.getByRole("button", { name: "Re-mark" }));
    await waitFor(() =>
      expect(calls.find((call) => call.method === "POST")?.body).toEqual({ key_number: 2 }),
    );
  });

  it("is not offered while the sheet has the newest key", async () => {
    const calls = open({ ...SEEN, newest_key_number: 1 });
    await waitFor(() => expect(calls).toHaveLength(1));
    expect(screen.queryByText(/newer key/)).toBeNull();
  });
});
