/** Answers of the server that several places ask for. */
import type { Schemas } from "../api/client";

export const CAUTIONS: Schemas["CautionsOut"] = {
  starts: [
    {
      start: "diesel",
      says: "diesel with a stop lever",
      lines: [
        { id: "stop-lever", says: "Stop lever at stop." },
        { id: "hands", says: "Hands clear." },
      ],
      closing: [{ id: "tools", says: "Tools counted." }],
    },
    {
      start: "air",
      says: "air start",
      lines: [{ id: "air-shut", says: "Starting air shut." }],
      closing: [{ id: "tools", says: "Tools counted." }],
    },
  ],
  defers: "Local rules, the maker's manual and your supervising licensed person come first.",
  current: null,
};

export const METHODS: Schemas["MethodOut"][] = [
  {
    name: "two-stop",
    title: "Two stops",
    about: "half of the valves at one stop, the rest a full turn later",
    recognise: "a dead-centre mark",
  },
  {
    name: "opposite-valve",
    title: "Opposite valve",
    about: "with one valve fully open, set the one that makes the sum with it",
    recognise: "a valve fully open",
  },
];

export const COLUMNS: Schemas["ColumnOut"][] = [
  {
    name: "second",
    title: "2nd pass",
    spoken: "the second pass",
    holds: "gap",
    options: [],
    nothing: "",
  },
  {
    name: "after",
    title: "Nut tight",
    spoken: "the gap with the nut tight",
    holds: "gap",
    options: [],
    nothing: "",
  },
  {
    name: "shim_chosen",
    title: "Shim to fit",
    spoken: "the shim to fit",
    holds: "shim",
    options: [],
    nothing: "",
  },
  {
    name: "leave",
    title: "Leave it",
    spoken: "the reason for leaving it",
    holds: "choice",
    nothing: "no",
    options: [
      { value: "no-better", title: "the next size lands no better" },
      { value: "just-over", title: "a hundredth over, runs soon again" },
    ],
  },
];

export const ASKS: Schemas["AskOut"][] = [
  { name: "second", title: "a second pass", needs: "nothing" },
  { name: "nut", title: "the gap before and after the lock nut", needs: "nothing" },
  { name: "shims", title: "the shim fitted and the shim to fit", needs: "nothing" },
  { name: "closing", title: "the closing gap", needs: "a closing rocker" },
];

const PART_LABELS: Record<string, string> = {
  reading: "Reading",
  verdict: "Verdict",
  position: "Place",
  shim: "Shim",
};

/** A mark as the server tells it. */
export function mark(part: string, right: boolean, says: string): Schemas["MarkSays"] {
  return { part, label: PART_LABELS[part] ?? part, right, says, answer: null, decided: null };
}

/** A plain engine file: one cylinder in line with what a pattern of the server holds. */
export const ENGINE_FILE = {
  format: "edrix-engine/1",
  name: "Pump",
  cylinders: 2,
  layout: "parallel-twin",
  banks: [[1, 2]],
  firing_order: [1, 2],
  firing_intervals_deg: [180, 540],
  rotation: "clockwise",
  turning: { reverse_allowed: false, backlash_deg: 2, with: "crank nut" },
  geometry: { stroke_mm: 60, rod_mm: 110 },
  timing: {
    intake: { opens_btdc: 12, closes_abdc: 46 },
    exhaust: { opens_bbdc: 48, closes_atdc: 14 },
  },
  lift_mm: { intake: 8, exhaust: 7.5 },
  ramp_deg: 16,
  valves: [
    { number: 1, cylinder: 1, role: "exhaust" },
    { number: 2, cylinder: 1, role: "intake" },
    { number: 3, cylinder: 2, role: "intake" },
    { number: 4, cylinder: 2, role: "exhaust" },
  ],
  clearance: {
    unit: "mm",
    engine: "cold",
    intake: { min: 0.2, max: 0.3 },
    exhaust: { nominal: 0.35, minus: 0.05, plus: 0.05 },
  },
  adjuster: {
    intake: { kind: "screw", pitch_mm: 1, screw_at: "pushrod", rocker_ratio: 1.4 },
    exhaust: {
      kind: "shim",
      place: "over-bucket",
      sizes_mm: { from: 2, to: 3, step: 0.05 },
      cams_out: false,
    },
  },
  decompressor: { role: "exhaust", opens_cycle_deg: 630, closes_cycle_deg: 700, lift_mm: 0.6 },
  marks: [{ on: "crank", label: "T", deg: 0, means: "tdc" }],
  maker_chart: [{ crank_deg: 0, set: [1, 2] }],
  notes: "From the plate.",
};

/** What the server says of a push-rod engine's valve gear. */
export const PUSH_RODS = {
  valves_called: "rockers",
  trains: Object.fromEntries(
    ["intake", "exhaust", "brake"].map((role) => [
      role,
      {
        kind: "pushrod-rocker",
        part: "rocker",
        wiggles: true,
        cam_in_sight: false,
        push: "Press its push rod down",
        assumed: false,
        bridged: false,
        seat: "pushrod",
      },
    ]),
  ),
  looks: [
    { name: "followers", does: "Wiggle its rockers" },
    { name: "rods", does: "Spin its push rods" },
    { name: "air", does: "Thumb on its plug hole" },
    { name: "companion", does: "Wiggle its companion's rockers" },
  ],
  rotor: [],
  methods_hidden: { "lobe-away": "The cam lies in the block, out of sight." },
  notes: "",
  adjusters: { intake: "screw", exhaust: "screw" },
  manual: {
    torques: [],
    parts: [],
    tools: [],
    interval: "",
    turned_one_way: "",
    shims: [],
    second_gap: "",
  },
};

/** A valve train as an engine's file gives it. */
export const ROCKER: Schemas["TrainOut"] = {
  kind: "pushrod-rocker",
  part: "rocker",
  wiggles: true,
  cam_in_sight: false,
  push: "Press its push rod down",
  assumed: false,
  bridged: false,
  seat: "pushrod",
};
