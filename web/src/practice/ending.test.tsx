/** Closing up, the first start, and the debrief. */
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it } from "vitest";
import { aFreshDevice, answered, RUN, run, sent, view } from "../testing/practice";
import { INES, saying, serve, show } from "../testing/render";
import DebriefPage from "./DebriefPage";

beforeEach(aFreshDevice);

describe("closing up", () => {
  it("asks before the first start, and leads to the debrief after it", async () => {
    const user = userEvent.setup();
    HTMLDialogElement.prototype.showModal = function show(this: HTMLDialogElement) {
      this.open = true;
    };
    HTMLDialogElement.prototype.close = function close(this: HTMLDialogElement) {
      this.open = false;
    };
    const calls = run(() => answered(4, { view: view(4, { started: true }) }));
    await screen.findByText("Rocked on.");
    await user.click(screen.getByText("Close up"));
    await user.click(screen.getByRole("button", { name: "First start" }));
    expect(sent(calls)).toHaveLength(0);
    await user.click(screen.getByRole("button", { name: "Start it" }));
    const way = await screen.findByRole("link", { name: /See what happened/ });
    expect(way.getAttribute("href")).toBe("/debrief/5");
    expect(sent(calls).map((body) => body.action.do)).toEqual(["start"]);
  });

  it("leads to the debrief when the time is up", async () => {
    const user = userEvent.setup();
    run(() => answered(4), { ...RUN, level: "test", until: "2020-01-01T08:00:00Z" });
    await screen.findByText("Rocked on.");
    await user.click(screen.getByText("Close up"));
    expect(screen.getByText("The time is up")).toBeTruthy();
    expect(screen.getByRole("link", { name: /See what happened/ })).toBeTruthy();
  });

  it("counts, takes the tool off, and puts the cover on", async () => {
    const user = userEvent.setup();
    const calls = run((_call, count) => answered(3 + count));
    await screen.findByText("Rocked on.");
    await user.click(screen.getByText("Close up"));
    for (const name of [/Count leaves/, /Turning tool off/, "Cover on"]) {
      await user.click(screen.getByRole("button", { name }));
    }
    await waitFor(() => expect(sent(calls)).toHaveLength(3));
    expect(sent(calls).map((body) => body.action)).toEqual([
      { do: "count-tools" },
      { do: "tool-off" },
      { do: "cover", on: true },
    ]);
  });
});

describe("the debrief", () => {
  it("tells what was wrong beside the truth", async () => {
    const user = userEvent.setup();
    const moment = { crank_deg: 0, action: "try", valve: 1, says: "0.25 mm: drags.", cost: null };
    serve(() => ({
      body: {
        run: {
          id: 5,
          student: "Ines Falkner",
          attempt: 1,
          step: 2,
          began_at: "2026-11-25T08:00:00Z",
          ended_at: "2026-11-25T09:00:00Z",
          outcome: "ticks",
        },
        title: "Pump, alone",
        engine_id: 4,
        engine_version: 1,
        headline: "It starts and runs, and it ticks.",
        outcome: "ticks",
        consequences: [{ start: "ticks", says: "Valve 2 ticks.", valve: 2 }],
        later: [],
        moments: [
          { ...moment, step: 1, wrong: null },
          { ...moment, step: 2, wrong: "Valve 1 was not on its heel.", cost: "It felt small." },
        ],
        valves: [
          {
            valve: 1,
            found_mm: 0.314,
            left_mm: 0.25,
            first: "0.30",
            second: null,
            after: "0.25",
            within: true,
            nut_moves_mm: -0.03,
            shown: { found: "0.31 mm", left: "0.25 mm", nut: "closes 0.03 mm" },
          },
        ],
        faults: [{ kind: "worn-pad", valve: 1 }],
        turned_deg: 90,
        stood_h: 14,
        passed: false,
        remarks: [
          {
            kind: "not-rechecked",
            valves: [1],
            step: 9,
            says: "Valve 1 was not tried again after the nut.",
            led_to: "A nut takes the screw with it.",
          },
          {
            kind: "cover-off",
            valves: [],
            step: null,
            says: "The cover was left off.",
            led_to: "",
          },
        ],
        done_well: ["Every valve was measured, and each on its heel."],
      },
    }));
    show(<DebriefPage />, { path: "/debrief/5", route: "/debrief/:runId", person: INES });
    expect(await screen.findByText(saying("Valve 2 ticks."))).toBeTruthy();
    expect(screen.getByText(/hollow rocker pad \(valve 1\)/)).toBeTruthy();
    expect(screen.getByText("0.31 mm")).toBeTruthy();
    expect(screen.getByText("closes 0.03 mm")).toBeTruthy();
    expect(screen.getByText(saying("Valve 1 was not on its heel. It felt small."))).toBeTruthy();
    expect(screen.getByRole("heading", { name: "Not passed" })).toBeTruthy();
    expect(screen.getByText(saying("Valve 1 was not tried again after the nut."))).toBeTruthy();
    expect(screen.getByText("The cover was left off.")).toBeTruthy();
    expect(screen.getByText("Every valve was measured, and each on its heel.")).toBeTruthy();
    expect(screen.getByText(/let stand for 14 h/)).toBeTruthy();
    // What is hidden in the file is for instructors.
    expect(screen.queryByRole("link", { name: "Run file" })).toBeNull();
    expect(screen.getAllByText(saying("0.25 mm: drags."))).toHaveLength(1);
    await user.click(screen.getByRole("button", { name: "Every step" }));
    expect(screen.getAllByText(saying("0.25 mm: drags."))).toHaveLength(2);
  });
});
