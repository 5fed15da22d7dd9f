/** A student's sheet for the tests: what the server says of it, and its page. */
import { screen } from "@testing-library/react";
import type { Schemas } from "../api/client";
import SheetPage from "../sheets/SheetPage";
import { CAUTIONS, mark, ROCKER } from "./fixtures";
import { type Call, type Handler, serve, show } from "./render";

const spec = {
  columns: ["second", "after", "shim_chosen", "leave"],
  low_mm: 0.22,
  high_mm: 0.28,
  says: "0.22–0.28 mm",
  says_other: "8.7–11 thou",
  written_in: "mm",
  label: "",
  train: ROCKER,
};

export const SHEET: Schemas["SheetOut"] = {
  id: 5,
  title: "First measuring",
  class_name: "Class A",
  stand: "Stand 3",
  stand_id: 3,
  engine: "Pump",
  engine_id: 1,
  engine_version: 1,
  measured: "cold",
  method: "two-stop",
  tolerance_mm: "0.0300",
  gauge_mm: "0.0000",
  asks: [],
  columns: [],
  stops: [
    { stop: 1, crank_deg: 0 },
    { stop: 2, crank_deg: 360 },
  ],
  valves: [
    { number: 1, cylinder: 1, role: "exhaust", ...spec },
    { number: 2, cylinder: 1, role: "intake", ...spec },
  ],
  closes_at: null,
  closed: false,
  draft: [],
  notices: [],
  result: null,
};

export const RESULT: Schemas["OwnResultOut"] = {
  handed_in_at: "2026-11-25T08:00:00Z",
  points: 5,
  out_of: 6,
  grade: null,
  hints: ["Look at the decimal point of valve 2."],
  waits: [],
  lines: [
    { valve: 1, reading: "0.25", unit: "mm", crank_deg: 0, verdict: "within", further: {} },
    { valve: 2, reading: "10 thou", unit: "mm", crank_deg: null, verdict: null, further: {} },
  ],
  valves: [1, 2].map((valve) => ({
    valve,
    points: 3 - (valve - 1),
    marks: [
      mark("reading", true, "Agrees with the reference."),
      mark("verdict", true, "Follows."),
      valve === 1
        ? mark("position", true, "On its heel.")
        : mark("position", false, "No stop given."),
    ],
  })),
};

/** What a server says that takes everything as it comes. */
export function stands(call: Call): Schemas["DraftOut"] {
  const { changes } = call.body as Schemas["DraftIn"];
  return { lines: changes.map(({ line }) => line), clashes: [] };
}

export const blank = { reading: "", unit: "mm", crank_deg: null, verdict: null, further: {} };

export function open(handler: Handler, sheet = SHEET): Call[] {
  const calls = serve((call) => {
    const own = handler(call);
    if (own) return own;
    if (call.method === "GET" && call.path === "/api/sheets/5") return { body: sheet };
    if (call.path.endsWith("/draft")) return { body: stands(call) };
    if (call.path.includes("/cautions")) return { body: CAUTIONS };
    return undefined;
  });
  show(<SheetPage />, { path: "/sheet/5", route: "/sheet/:sheetId" });
  return calls;
}

export const reading = (valve: number) => screen.findByLabelText(`Reading of valve ${valve}`);
