/** A practice run for the tests: its table, its view, and a server that answers actions. */

import { vi } from "vitest";
import type { Schemas } from "../api/client";
import PracticePage from "../practice/PracticePage";
import { PUSH_RODS } from "./fixtures";
import { type Call, type Handler, INES, serve, show } from "./render";

export const TABLE = {
  engine: {
    name: "Pump",
    layout: "single",
    rotation: "clockwise",
    turning_off: "Turning tool off the crank nut",
    turning_is_on: "the turning tool is on the crank nut",
    ...PUSH_RODS,
    firing_order: [1],
    banks: [[1]],
    cylinders: [{ cylinder: 1, fire_deg: 0, companion: null }],
    valves: [
      { number: 1, cylinder: 1, role: "intake" },
      { number: 2, cylinder: 1, role: "exhaust" },
    ],
    specs: [
      {
        role: "intake",
        low_mm: 0.22,
        high_mm: 0.28,
        says: "0.22–0.28 mm",
        says_other: "8.7–11 thou",
        lift_mm: 8,
      },
    ],
    marks: [
      { on: "crank", label: "0", deg: 0, means: "tdc", crank_degs: [0, 360] },
      { on: "crank", label: "F", deg: 348, means: "ignition", crank_degs: [348, 708] },
    ],
  },
  roles: {},
  segments: [],
};

export function view(step: number, more: Partial<Schemas["ViewOut"]> = {}): Schemas["ViewOut"] {
  return {
    step,
    crank_turn_deg: 10,
    valves: [1, 2].map((valve) => ({
      valve,
      down_mm: 0,
      nut_tight: true,
      shim_out: false,
      shim_aside: false,
      closing_shim_out: false,
      closing_shim_aside: false,
      done: false,
    })),
    notes: [],
    closing_box_um: [],
    box_um: [],
    cams_out: false,
    crank_locked: false,
    tool_on: true,
    tools_counted: false,
    closed: false,
    started: false,
    cam_deg: null,
    dots_deg: [],
    ...more,
  };
}

export const RUN = {
  id: 5,
  title: "Pump, alone",
  engine_id: 4,
  engine_version: 1,
  level: "alone",
  leaves_um: [200, 250, 300],
  steps_um: [],
  angled_um: [],
  stack_help: false,
  bridged: [] as number[],
  leaf_unit: "mm",
  leaf_labels: {},
  marks: TABLE.engine.marks,
  adjusters: {
    intake: { kind: "screw", pitch_mm: 1, locknut_torque_nm: 22, cams_out: false },
    exhaust: { kind: "shim", pitch_mm: null, locknut_torque_nm: null, cams_out: false },
  },
  until: null,
  debriefs_open: true,
  view: view(3),
  events: [{ step: 3, action: { do: "rock" }, says: "Rocked on.", facts: {} }],
};

export const answered = (step: number, more: object = {}) => ({
  body: { step, asks: null, says: "Done so.", facts: {}, view: view(step), ...more },
});

export function run(act: (call: Call, count: number) => ReturnType<Handler>, start: object = RUN) {
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

export const sent = (calls: Call[]) =>
  calls.filter((call) => call.path.endsWith("/actions")).map((call) => call.body as SentBody);
export type SentBody = { key: string; step: number; action: { do: string }; sure: boolean };

/** jsdom has no pointer events: a mouse event with a pointer's number will do. */
class Pointer extends MouseEvent {
  readonly pointerId: number;
  constructor(type: string, init: PointerEventInit) {
    super(type, init);
    this.pointerId = init.pointerId ?? 0;
  }
}

/** Before each test: pointers as jsdom has none, and a device that remembers nothing. */
export function aFreshDevice() {
  vi.stubGlobal("PointerEvent", Pointer);
  localStorage.clear();
  HTMLElement.prototype.setPointerCapture = vi.fn();
  SVGElement.prototype.setPointerCapture = vi.fn();
}
