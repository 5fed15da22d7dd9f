/** A stand and its trend, for the tests of this folder. */
import type { Schemas } from "../api/client";

export const STAND: Schemas["HallStandOut"] = {
  id: 4,
  name: "Stand 2",
  place: "hall 2",
  engine_id: 1,
  engine_version: 1,
  engine_name: "Snow tug",
  meter_unit: "h",
  meter: "300.0",
  cool_h: "12.0",
  state: "ready",
  why: "",
  warm_until: null,
  adjusted_at: null,
  adjusted_by: "",
  classes: ["Pump crew"],
  mine: true,
  away: false,
};

export const VALVE: Schemas["ValveTrendOut"] = {
  valve: 1,
  cylinder: 1,
  role: "exhaust",
  low_mm: 0.2,
  high_mm: 0.3,
  written_in: "mm",
  rate: -10,
  rate_low: -14,
  rate_high: -6,
  rate_says: "closes 10 µm in 100 h (6 to 14)",
  last_meter: 300,
  last_mm: 0.24,
  side: "tight",
  expected: 700,
  soonest: 585,
  outside: false,
  points: [
    { meter: 100, found_mm: 0.26, left_mm: null },
    { meter: 200, found_mm: 0.25, left_mm: null },
    { meter: 300, found_mm: 0.18, left_mm: 0.24 },
  ],
  stretches: [{ from_h: 100, from_mm: 0.26, to_h: 300, to_mm: 0.24 }],
};

export const TREND: Schemas["TrendOut"] = {
  stand_id: 4,
  stand: "Stand 2",
  engine: "Snow tug",
  meter_unit: "h",
  meter_now: "300.0",
  next_look: 585,
  first: [1],
  says: ["Next look: in 285 h, at 585 h, exhaust 1 first."],
  odd: [{ valve: 1, odds: 40, look_for: "a receding seat" }],
  valves: [VALVE, { ...VALVE, valve: 2, role: "intake", expected: null, soonest: null }],
};
