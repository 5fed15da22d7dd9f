/** When a sheet opens and closes, as it is typed and as the server takes it. */
import { fireEvent, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { INES, problem, serve, showOnDesk } from "../testing/render";
import { SheetsTab } from "./SheetsTab";

const TOVE = { ...INES, id: 1, may_teach: true };
const SHEET: Schemas["SheetRow"] = {
  id: 5,
  title: "First",
  stand: "Stand 3",
  engine: "Pump",
  engine_id: 1,
  engine_version: 1,
  method: "two-stop",
  tolerance_mm: "0.03",
  gauge_mm: "0",
  asks: [],
  key_number: 1,
  set_at: "2026-11-25T08:00:00Z",
  handed_in: 3,
  opens_at: null,
  closes_at: "2026-12-24T16:00:00Z",
  not_open_yet: false,
  closed: false,
  away: false,
};

async function open(answer: object = { status: 204 }, sheet: Partial<typeof SHEET> = {}) {
  const calls = serve((call) =>
    call.method === "PATCH" ? (answer as never) : { body: [{ ...SHEET, ...sheet }] },
  );
  showOnDesk(<SheetsTab classId={2} />, { person: TOVE });
  await userEvent.click(await screen.findByRole("button", { name: "More for First" }));
  return calls;
}
const sent = (calls: Awaited<ReturnType<typeof open>>) =>
  calls.filter((call) => call.method === "PATCH").map((call) => call.body);

describe("a sheet's times", () => {
  it("are typed by the school's clock; blank is at once, and never", async () => {
    const calls = await open();
    await userEvent.click(await screen.findByRole("menuitem", { name: "Open and close…" }));
    const due = await screen.findByLabelText("Due, and closes");
    expect((due as HTMLInputElement).value).toBe("2026-12-24T16:00");
    fireEvent.change(screen.getByLabelText("Opens"), { target: { value: "2026-12-01T08:00" } });
    fireEvent.change(due, { target: { value: "" } });
    await userEvent.click(screen.getByRole("button", { name: "Set the times" }));
    await waitFor(() =>
      expect(sent(calls)).toEqual([{ opens_at: "2026-12-01T08:00", closes_at: null }]),
    );
  });

  it("that cannot be stay typed, with what is wrong", async () => {
    const fields = [{ path: "closes_at", problem: "is not after it opens" }];
    await open({ status: 422, body: problem(422, "No.", { fields }) });
    await userEvent.click(await screen.findByRole("menuitem", { name: "Open and close…" }));
    await screen.findByLabelText("Due, and closes");
    await userEvent.click(screen.getByRole("button", { name: "Set the times" }));
    await screen.findByText("is not after it opens");
  });

  it("close by hand, and open again", async () => {
    const calls = await open();
    await userEvent.click(await screen.findByRole("menuitem", { name: "Close now" }));
    await waitFor(() => expect(sent(calls)).toHaveLength(1));
    expect(sent(calls)[0]).toMatchObject({ closes_at: expect.stringMatching(/Z$/) });
  });

  it("say that it is closed", async () => {
    const calls = await open({ status: 204 }, { closed: true });
    await screen.findByText("closed 24 Dec 2026");
    await userEvent.click(await screen.findByRole("menuitem", { name: "Open again" }));
    await waitFor(() => expect(sent(calls)).toEqual([{ closes_at: null }]));
  });
});
