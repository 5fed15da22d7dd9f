/** The practice run: actions sent once, questions, the notepad, turning, the time. */
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { aFreshDevice, answered, RUN, run, type SentBody, sent, view } from "../testing/practice";
import { problem } from "../testing/render";
import { timeLeft } from "./Countdown";

beforeEach(aFreshDevice);

describe("a run", () => {
  it("shows where it stands and sends actions one after another", async () => {
    const user = userEvent.setup();
    const calls = run((_call, count) => answered(3 + count));
    expect(await screen.findByText("Rocked on.")).toBeTruthy();
    await user.keyboard("o{ArrowRight}w");
    await waitFor(() => expect(sent(calls)).toHaveLength(3));
    expect(sent(calls).map((body) => [body.step, body.action.do])).toEqual([
      [3, "rock"],
      [4, "turn"],
      [5, "wiggle"],
    ]);
    expect(new Set(sent(calls).map((body) => body.key)).size).toBe(3);
    expect(localStorage.length).toBe(0);
  });

  it("keeps an action that was lost, and sends it again by its own key", async () => {
    const user = userEvent.setup();
    const calls = run((_call, count) => (count === 1 ? "down" : answered(4)));
    await screen.findByText("Rocked on.");
    await user.keyboard("o");
    expect(await screen.findByText(/cannot be reached/)).toBeTruthy();
    expect(localStorage.getItem("edrix-run-5")).toContain("rock");
    await user.click(screen.getByRole("button", { name: "Send it again" }));
    expect(await screen.findByText("Done so.")).toBeTruthy();
    const [first, second] = sent(calls);
    expect(second?.key).toBe(first?.key);
    expect(localStorage.length).toBe(0);
  });

  it("lets new actions wait behind one that was lost, and sends them in order", async () => {
    const user = userEvent.setup();
    let isDown = true;
    let step = 3;
    const calls = run(() => {
      if (isDown) return "down";
      step += 1;
      return answered(step);
    });
    await screen.findByText("Rocked on.");
    await user.keyboard("o");
    await screen.findByText(/cannot be reached/);
    await user.keyboard("w");
    // Both are there when the browser is closed now.
    expect(localStorage.getItem("edrix-run-5")).toMatch(/rock.*wiggle/);
    isDown = false;
    const before = sent(calls).length;
    window.dispatchEvent(new Event("online"));
    await waitFor(() => expect(sent(calls).length).toBeGreaterThanOrEqual(before + 2));
    const last = sent(calls).slice(-2);
    expect(last.map((body) => [body.step, body.action.do])).toEqual([
      [3, "rock"],
      [4, "wiggle"],
    ]);
    expect(last[0]?.key).toBe(sent(calls)[0]?.key);
    await waitFor(() => expect(localStorage.length).toBe(0));
  });

  it("goes on where the device's storage is full", async () => {
    const user = userEvent.setup();
    vi.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
      throw new DOMException("full", "QuotaExceededError");
    });
    const calls = run((_call, count) => answered(3 + count));
    await screen.findByText("Rocked on.");
    await user.keyboard("o");
    expect(await screen.findByText("Done so.")).toBeTruthy();
    expect(sent(calls)).toHaveLength(1);
  });

  it("sends what was under way when the browser was closed", async () => {
    const left = { key: "left-key-1", step: 3, action: { do: "rock" }, sure: false };
    localStorage.setItem("edrix-run-5", JSON.stringify(left));
    const calls = run(() => answered(4));
    await waitFor(() => expect(sent(calls)).toEqual([left]));
  });

  it("says what cannot be done, and reads again where it stands elsewhere", async () => {
    const user = userEvent.setup();
    const says = "The lock nut of valve 1 is still tight.";
    const calls = run((_call, count) =>
      count === 1
        ? { status: 422, body: problem(422, says) }
        : { status: 409, body: problem(409, "This run stands at step 9.") },
    );
    await screen.findByText("Rocked on.");
    await user.keyboard("z");
    expect(await screen.findByText(says)).toBeTruthy();
    await user.keyboard("o");
    expect(await screen.findByText("This run stands at step 9.")).toBeTruthy();
    expect(calls.filter((call) => call.path === "/api/runs/5")).toHaveLength(2);
  });

  it("asks before a mistake, and does it only when told twice", async () => {
    const user = userEvent.setup();
    const calls = run((call) =>
      (call.body as SentBody).sure
        ? answered(4)
        : answered(3, { asks: "Is every valve written down?", says: "" }),
    );
    await screen.findByText("Rocked on.");
    await user.keyboard("l");
    expect(await screen.findByText("Is every valve written down?")).toBeTruthy();
    await user.click(screen.getByRole("button", { name: "I look again" }));
    expect(screen.queryByText("Is every valve written down?")).toBeNull();
    await user.keyboard("l");
    await user.click(await screen.findByRole("button", { name: "Do it all the same" }));
    expect(await screen.findByText("Done so.")).toBeTruthy();
    expect(sent(calls).map((body) => body.sure)).toEqual([false, false, true]);
  });

  it("shows the marks as they are found on this engine", async () => {
    const user = userEvent.setup();
    const marks = [{ on: "crank", label: "0", deg: 342, means: "tdc", crank_degs: [342, 702] }];
    const calls = run(() => answered(4), { ...RUN, marks });
    await screen.findByText("Rocked on.");
    await user.keyboard("m");
    await waitFor(() => expect(sent(calls)[0]?.action).toMatchObject({ do: "turn", by_deg: 332 }));
  });

  it("counts the time down, and opens the end when it is up", async () => {
    const until = new Date(Date.now() + 1500).toISOString();
    run(() => answered(4), { ...RUN, level: "test", until });
    expect((await screen.findByRole("timer")).textContent).toMatch(/^0:0[012]$/);
    expect(timeLeft(125_000, 0)).toBe("2:05");
    expect(await screen.findByText("The time is up", {}, { timeout: 4000 })).toBeTruthy();
    expect(screen.getByRole("link", { name: "See what happened, and why" })).toBeTruthy();
  });

  it("writes figures when the field is left, and marks passes that differ", async () => {
    const user = userEvent.setup();
    const notes = [
      { valve: 2, column: "first", text: "0.30" },
      { valve: 2, column: "second", text: "0.34" },
    ];
    const calls = run(() => answered(4), { ...RUN, view: view(3, { notes }) });
    const second = await screen.findByLabelText("Second reading of valve 2");
    expect(second.className).toContain("differs");
    await user.type(screen.getByLabelText("First reading of valve 1"), "0,25{Enter}");
    await waitFor(() => expect(sent(calls)).toHaveLength(1));
    expect(sent(calls)[0]?.action).toEqual({
      do: "write",
      valve: 1,
      column: "first",
      text: "0,25",
    });
  });

  it("offers a screw's ways or a shim's, by the valve", async () => {
    const user = userEvent.setup();
    const calls = run((_call, count) => answered(3 + count));
    await screen.findByText("Rocked on.");
    await user.click(screen.getByText("Adjust"));
    await user.click(screen.getByRole("button", { name: "Tighten to N·m" }));
    await user.keyboard("v");
    await user.type(await screen.findByLabelText("Shim to fit, in mm"), "2,65");
    await user.click(screen.getByRole("button", { name: "Fit this shim" }));
    await waitFor(() => expect(sent(calls)).toHaveLength(2));
    expect(sent(calls).map((body) => body.action)).toEqual([
      { do: "tighten", valve: 1, torque_nm: 22 },
      { do: "fit-shim", valve: 2, size_um: 2650, face_down: true, gap: "opening" },
    ]);
  });

  it("lets a valve with a shim be left loose, and one with a screw not", async () => {
    const user = userEvent.setup();
    const calls = run((_call, count) => answered(3 + count));
    await screen.findByText("Rocked on.");
    expect(screen.queryByLabelText(/Leave valve/)).toBeNull();
    await user.keyboard("v");
    await user.click(await screen.findByLabelText("Leave valve 2 loose: no shim lands nearer"));
    await waitFor(() => expect(sent(calls)).toHaveLength(1));
    expect(sent(calls)[0]?.action).toEqual({
      do: "write",
      valve: 2,
      column: "leave",
      text: "no-better",
    });
  });

  it.each([false, true])("takes the cams out only where they have to: %s", async (camsOut) => {
    const user = userEvent.setup();
    const exhaust = { ...RUN.adjusters.exhaust, cams_out: camsOut };
    run(() => answered(4), { ...RUN, adjusters: { ...RUN.adjusters, exhaust } });
    await screen.findByText("Rocked on.");
    await user.click(screen.getByText("Adjust"));
    await user.keyboard("v");
    await screen.findByLabelText("Shim to fit, in mm");
    expect(screen.queryAllByRole("button", { name: "Cams out" })).toHaveLength(camsOut ? 1 : 0);
    expect(screen.queryAllByText(/crank free/)).toHaveLength(camsOut ? 1 : 0);
  });
});

describe("turning and looking", () => {
  it("turns so far, looks, and is told", async () => {
    const user = userEvent.setup();
    const calls = run((_call, count) => answered(3 + count));
    await screen.findByText("Rocked on.");
    await user.click(screen.getByText("Turn"));
    const far = screen.getByLabelText("Degrees to turn");
    await user.clear(far);
    await user.type(far, "7,5");
    await user.click(screen.getByRole("button", { name: "Turn so far" }));
    await user.click(screen.getByRole("button", { name: "Marks" }));
    await user.click(screen.getByRole("button", { name: /Next mark/ }));
    await waitFor(() => expect(sent(calls)).toHaveLength(3));
    expect(sent(calls).map((body) => body.action)).toEqual([
      { do: "turn", by_deg: 7.5 },
      { do: "look", at: "marks" },
      { do: "turn", by_deg: 338 },
    ]);
  });

  it("lets the engine stand, and tries the timing pin where there is one", async () => {
    const user = userEvent.setup();
    const pin = { ...RUN.marks[0], label: "pin", means: "pin" };
    const marks = [...RUN.marks, pin];
    const calls = run((_call, count) => answered(3 + count), { ...RUN, marks });
    await screen.findByText("Rocked on.");
    await user.click(screen.getByText("Turn"));
    await user.click(screen.getByRole("button", { name: "till tomorrow" }));
    await user.click(screen.getByRole("button", { name: "Try it in" }));
    await waitFor(() => expect(sent(calls)).toHaveLength(2));
    expect(sent(calls).map((body) => body.action)).toEqual([
      { do: "wait", hours: 14 },
      { do: "lock-crank", locked: true },
    ]);
  });

  it("offers no look that the engine has not got", async () => {
    const user = userEvent.setup();
    run((_call, count) => answered(3 + count));
    await screen.findByText("Rocked on.");
    await user.click(screen.getByText("Turn"));
    expect(screen.getByRole("button", { name: "Threads" })).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Lobes" })).toBeNull();
    expect(screen.queryByRole("button", { name: "Rotor" })).toBeNull();
    expect(screen.queryByRole("button", { name: "Try it in" })).toBeNull();
  });

  it("leaves keys alone while a figure is typed", async () => {
    const user = userEvent.setup();
    const calls = run(() => answered(4));
    await user.type(await screen.findByLabelText("After reading of valve 1"), "rfl");
    expect(sent(calls)).toHaveLength(0);
  });
});
