/** The practice run: leaves under a finger, actions sent once, questions, keys, the notepad. */
import { fireEvent, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../api/client";
import { type Call, type Handler, INES, problem, serve, show } from "../testing/render";
import { timeLeft } from "./Countdown";
import DebriefPage from "./DebriefPage";
import {
  bendPx,
  GATE_PX,
  howEntered,
  leafPx,
  leafWord,
  neighbour,
  sumWords,
  toggled,
} from "./leaves";
import PracticePage from "./PracticePage";
import { toNextMark } from "./Turning";

const TABLE = {
  engine: {
    name: "Pump",
    layout: "single",
    rotation: "clockwise",
    firing_order: [1],
    banks: [[1]],
    cylinders: [{ cylinder: 1, fire_deg: 0, companion: null }],
    valves: [
      { number: 1, cylinder: 1, role: "intake" },
      { number: 2, cylinder: 1, role: "exhaust" },
    ],
    specs: [
      { role: "intake", low_mm: 0.22, high_mm: 0.28, low_thou: 8.7, high_thou: 11, lift_mm: 8 },
    ],
    marks: [
      { on: "crank", label: "0", deg: 0, means: "tdc", crank_degs: [0, 360] },
      { on: "crank", label: "F", deg: 348, means: "ignition", crank_degs: [348, 708] },
    ],
  },
  roles: {},
  segments: [],
};

function view(step: number, more: Partial<Schemas["ViewOut"]> = {}): Schemas["ViewOut"] {
  return {
    step,
    crank_turn_deg: 10,
    valves: [1, 2].map((valve) => ({
      valve,
      down_mm: 0,
      nut_tight: true,
      shim_out: false,
      shim_aside: false,
      done: false,
    })),
    notes: [],
    box_um: [],
    cams_out: false,
    crank_locked: false,
    tool_on: true,
    tools_counted: false,
    closed: false,
    started: false,
    ...more,
  };
}

const RUN = {
  id: 5,
  title: "Pump, alone",
  engine_id: 4,
  engine_version: 1,
  level: "alone",
  leaves_um: [200, 250, 300],
  stack_help: false,
  bridged: false,
  marks: TABLE.engine.marks,
  adjusters: {
    intake: { kind: "screw", pitch_mm: 1, locknut_torque_nm: 22 },
    exhaust: { kind: "shim", pitch_mm: null, locknut_torque_nm: null },
  },
  until: null,
  view: view(3),
  events: [{ step: 3, action: { do: "rock" }, says: "Rocked on.", facts: {} }],
};

const answered = (step: number, more: object = {}) => ({
  body: { step, asks: null, says: "Done so.", facts: {}, view: view(step), ...more },
});

function run(act: (call: Call, count: number) => ReturnType<Handler>, start: object = RUN) {
  let count = 0;
  const calls = serve((call) => {
    if (call.method === "POST" && call.path === "/api/runs/5/actions") return act(call, ++count);
    if (call.path === "/api/runs/5") return { body: start };
    if (call.path.startsWith("/api/engines/4/cycle")) return { body: TABLE };
    return undefined;
  });
  show(<PracticePage />, { path: "/practice/5", route: "/practice/:runId", person: INES });
  return calls;
}

const sent = (calls: Call[]) =>
  calls.filter((call) => call.path.endsWith("/actions")).map((call) => call.body as SentBody);
type SentBody = { key: string; step: number; action: { do: string }; sure: boolean };

/** jsdom has no pointer events: a mouse event with a pointer's number will do. */
class Pointer extends MouseEvent {
  readonly pointerId: number;
  constructor(type: string, init: PointerEventInit) {
    super(type, init);
    this.pointerId = init.pointerId ?? 0;
  }
}

beforeEach(() => {
  vi.stubGlobal("PointerEvent", Pointer);
  localStorage.clear();
  HTMLElement.prototype.setPointerCapture = vi.fn();
  SVGElement.prototype.setPointerCapture = vi.fn();
});

describe("leaves", () => {
  it("follow a finger less the harder they are held", () => {
    const far = GATE_PX + 100;
    const places = [0, 0.4, 0.8, 1].map((pull) => leafPx(far, pull));
    expect(places).toEqual([...places].sort((one, other) => other - one));
    expect(places.at(-1)).toBe(GATE_PX);
    expect(leafPx(10, null)).toBe(10);
    expect(leafPx(far, null)).toBe(GATE_PX);
  });

  it("bend when they are refused, and only then", () => {
    expect(bendPx(GATE_PX + 60, 1)).toBeGreaterThan(10);
    expect(bendPx(GATE_PX + 60, 0.9)).toBe(0);
    expect(howEntered(3)).toBe("straight");
    expect(howEntered(-40)).toBe("skewed");
    expect(howEntered(40)).toBe("tip");
  });

  it("are told in both units, and stacked", () => {
    expect(sumWords([200, 80], "mm")).toBe("0.28 mm · 11 thou");
    expect(sumWords([254], "thou")).toBe("10 thou · 0.254 mm");
    expect(leafWord(254, "thou")).toBe("10");
    expect(leafWord(250, "mm")).toBe("0.25");
    expect(toggled([250], 200, false)).toEqual([200]);
    expect(toggled([250], 200, true)).toEqual([250, 200]);
    expect(toggled([250, 200], 200, true)).toEqual([250]);
    expect(toggled([250], 250, true)).toEqual([250]);
    expect(neighbour([300, 200, 250], 250, 1)).toBe(300);
    expect(neighbour([300, 200, 250], 200, -1)).toBe(200);
  });

  it("knows the way to the next mark", () => {
    expect(toNextMark(TABLE as never, 10)).toBe(338);
    expect(toNextMark(TABLE as never, 348)).toBe(12);
  });
});

describe("a run", () => {
  it("shows where it stands and sends actions one after another", async () => {
    const user = userEvent.setup();
    const calls = run((_call, count) => answered(3 + count));
    expect(await screen.findByText("Rocked on.")).toBeTruthy();
    await user.keyboard("r.w");
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
    await user.keyboard("r");
    expect(await screen.findByText(/cannot be reached/)).toBeTruthy();
    expect(localStorage.getItem("edrix-run-5")).toContain("rock");
    await user.click(screen.getByRole("button", { name: "Send it again" }));
    expect(await screen.findByText("Done so.")).toBeTruthy();
    const [first, second] = sent(calls);
    expect(second?.key).toBe(first?.key);
    expect(localStorage.length).toBe(0);
  });

  it("sends what was under way when the browser was closed", async () => {
    const left = { key: "left-key-1", step: 3, action: { do: "rock" }, sure: false };
    localStorage.setItem("edrix-run-5", JSON.stringify(left));
    const calls = run(() => answered(4));
    await waitFor(() => expect(sent(calls)).toEqual([left]));
  });

  it("says what cannot be done, and reads anew where it stands elsewhere", async () => {
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
    await user.keyboard("r");
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

  it("comes to the near side of a bridge first, and lies under both when pushed on", async () => {
    const calls = run(
      (_call, count) => answered(3 + count, { facts: { feel: "free", pull: 0.1, total_um: 250 } }),
      { ...RUN, bridged: true },
    );
    const pad = await screen.findByRole("img", { name: /Gap of valve 1/ });
    fireEvent.pointerDown(pad, { clientX: 0, clientY: 50, pointerId: 1 });
    fireEvent.pointerMove(pad, { clientX: GATE_PX + 8, clientY: 50, pointerId: 1 });
    await screen.findByText(/near side of the bridge only/);
    fireEvent.pointerMove(pad, { clientX: GATE_PX + 120, clientY: 50, pointerId: 1 });
    fireEvent.pointerMove(pad, { clientX: GATE_PX + 150, clientY: 50, pointerId: 1 });
    await waitFor(() => expect(sent(calls)).toHaveLength(2));
    expect(sent(calls).map((body) => body.action)).toMatchObject([
      { do: "try", how: "one-side" },
      { do: "try", how: "straight" },
    ]);
  });

  it("feels the near side of a bridge by a key of its own, and only where there are bridges", async () => {
    const user = userEvent.setup();
    const felt = { facts: { feel: "free", pull: 0.1, total_um: 250 } };
    const calls = run((_call, count) => answered(3 + count, felt), { ...RUN, bridged: true });
    await screen.findByText("Rocked on.");
    await user.keyboard("n");
    await screen.findByText(/near side of the bridge only/);
    await user.keyboard("f");
    await waitFor(() => expect(sent(calls)).toHaveLength(2));
    expect(sent(calls).map((body) => body.action)).toMatchObject([
      { how: "one-side" },
      { how: "straight" },
    ]);
  });

  it("shows the marks as they are found on this engine", async () => {
    const user = userEvent.setup();
    const marks = [{ on: "crank", label: "0", deg: 342, means: "tdc", crank_degs: [342, 702] }];
    const calls = run(() => answered(4), { ...RUN, marks });
    await screen.findByText("Rocked on.");
    await user.keyboard("m");
    await waitFor(() => expect(sent(calls)[0]?.action).toMatchObject({ do: "turn", by_deg: 332 }));
  });

  it("demonstrates the next leaf where that is wanted", async () => {
    const user = userEvent.setup();
    let pushed = 0;
    serve((call) => {
      if (call.path.includes("/advice"))
        return {
          body: {
            leaves_mm: [0.3],
            verdict: "undecided",
            low_mm: 0.2,
            high_mm: null,
            says: "Try 0.30.",
            proves: "If 0.3 mm goes in, the gap is at least that.",
          },
        };
      if (call.path.endsWith("/actions")) {
        pushed += 1;
        return answered(4, { facts: { feel: "drag", pull: 0.5, total_um: 300 } });
      }
      if (call.path === "/api/runs/5") return { body: { ...RUN, level: "shown" } };
      if (call.path.startsWith("/api/engines/4/cycle")) return { body: TABLE };
      return undefined;
    });
    show(<PracticePage />, { path: "/practice/5", route: "/practice/:runId", person: INES });
    expect(await screen.findByText(/at least that/)).toBeTruthy();
    await user.click(screen.getByRole("button", { name: /Take 0.30 mm/ }));
    await user.click(await screen.findByRole("button", { name: "Show me: push it in" }));
    await waitFor(() => expect(screen.getByTestId("feel").textContent).toContain("drag"));
    expect(pushed).toBe(1);
  });

  it("counts the time down, and opens the end when it is up", async () => {
    const until = new Date(Date.now() + 1500).toISOString();
    run(() => answered(4), { ...RUN, level: "test", until });
    expect((await screen.findByRole("timer")).textContent).toMatch(/^0:0[012]$/);
    expect(timeLeft(125_000, 0)).toBe("2:05");
    expect(await screen.findByText("The time is up", {}, { timeout: 4000 })).toBeTruthy();
    expect(screen.getByRole("link", { name: "See what happened, and why" })).toBeTruthy();
  });

  it("feels by a key, and tells it in words", async () => {
    const user = userEvent.setup();
    const calls = run(() => answered(4, { facts: { feel: "drag", pull: 0.5, total_um: 300 } }));
    await screen.findByText("Rocked on.");
    await user.keyboard("]f");
    await waitFor(() => expect(screen.getByTestId("feel").textContent).toContain("drag"));
    expect(sent(calls)[0]?.action).toMatchObject({ do: "try", leaves_um: [300], how: "straight" });
  });

  it("feels by a finger, once for each push, and notices a crooked one", async () => {
    const calls = run((_call, count) =>
      answered(3 + count, { facts: { feel: "no", pull: 1, total_um: 250 } }),
    );
    const pad = await screen.findByRole("img", { name: /Gap of valve 1/ });
    const push = async (across: number, times: number) => {
      fireEvent.pointerDown(pad, { clientX: 0, clientY: 50, pointerId: 1 });
      fireEvent.pointerMove(pad, { clientX: GATE_PX + 20, clientY: 50 + across, pointerId: 1 });
      fireEvent.pointerMove(pad, { clientX: GATE_PX + 60, clientY: 50 + across, pointerId: 1 });
      fireEvent.pointerUp(pad, { pointerId: 1 });
      await waitFor(() => expect(sent(calls)).toHaveLength(times));
    };
    await push(0, 1);
    await push(-60, 2);
    await push(60, 3);
    expect(sent(calls).map((body) => (body.action as unknown as { how: string }).how)).toEqual([
      "straight",
      "skewed",
      "tip",
    ]);
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
    await user.keyboard("{ArrowRight}");
    await user.type(await screen.findByLabelText("Shim to fit, in mm"), "2,65");
    await user.click(screen.getByRole("button", { name: "Fit this shim" }));
    await waitFor(() => expect(sent(calls)).toHaveLength(2));
    expect(sent(calls).map((body) => body.action)).toEqual([
      { do: "tighten", valve: 1, torque_nm: 22 },
      { do: "fit-shim", valve: 2, size_um: 2650, face_down: true },
    ]);
  });
});

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
    await user.click(screen.getByRole("button", { name: "Lobes" }));
    await user.click(screen.getByRole("button", { name: /Next mark/ }));
    await waitFor(() => expect(sent(calls)).toHaveLength(3));
    expect(sent(calls).map((body) => body.action)).toEqual([
      { do: "turn", by_deg: 7.5 },
      { do: "look", at: "lobes" },
      { do: "turn", by_deg: 338 },
    ]);
  });

  it("leaves keys alone while a figure is typed", async () => {
    const user = userEvent.setup();
    const calls = run(() => answered(4));
    await user.type(await screen.findByLabelText("After reading of valve 1"), "rfl");
    expect(sent(calls)).toHaveLength(0);
  });
});

describe("help", () => {
  it("finds a stack and puts it in the hand", async () => {
    const user = userEvent.setup();
    const calls = serve((call) => {
      if (call.path.startsWith("/api/runs/5/stack"))
        return { body: { leaves_um: [200, 250], total_mm: 0.45, error_mm: 0 } };
      if (call.path === "/api/runs/5") return { body: { ...RUN, stack_help: true } };
      return call.path.startsWith("/api/engines/4/cycle") ? { body: TABLE } : undefined;
    });
    show(<PracticePage />, { path: "/practice/5", route: "/practice/:runId", person: INES });
    await user.type(await screen.findByLabelText("Thickness to make, in mm"), "0,45");
    await user.click(screen.getByRole("button", { name: "Which leaves make it?" }));
    expect(await screen.findByText("0.45 mm · 17.7 thou")).toBeTruthy();
    expect(calls.some((call) => call.path.includes("target=0%2C45&unit=mm"))).toBe(true);
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
          },
        ],
        faults: [{ kind: "worn-pad", valve: 1 }],
        left_out: [],
        turned_deg: 90,
      },
    }));
    show(<DebriefPage />, { path: "/debrief/5", route: "/debrief/:runId", person: INES });
    expect(await screen.findByText("Valve 2 ticks.")).toBeTruthy();
    expect(screen.getByText(/hollow rocker pad \(valve 1\)/)).toBeTruthy();
    expect(screen.getByText("0.31 mm")).toBeTruthy();
    expect(screen.getByText("closes 0.03 mm")).toBeTruthy();
    expect(screen.getByText("Valve 1 was not on its heel. It felt small.")).toBeTruthy();
    expect(screen.getAllByText("0.25 mm: drags.")).toHaveLength(1);
    await user.click(screen.getByRole("button", { name: "Every step" }));
    expect(screen.getAllByText("0.25 mm: drags.")).toHaveLength(2);
  });
});
