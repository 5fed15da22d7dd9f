/**
 * What an engine file says that the editor has no field for: carried through untouched, so that
 * mending a figure loses nothing of the manual's page.
 */
// biome-ignore lint/suspicious/noExplicitAny: an engine file comes as JSON that the core has read
type Json = any;
/** Names that the editor writes itself; true is a field, a tree has further ones inside. */
type Owned = { [name: string]: true | Owned };

const names = (...all: string[]): Owned => Object.fromEntries(all.map((name) => [name, true]));

const SPEC: Owned = {
  ...names("min", "max", "nominal", "minus", "plus"),
  unit: true,
  running: names("min", "max", "measured"),
};
const ADJUSTER = names(
  "kind",
  "pitch_mm",
  "screw_at",
  "rocker_ratio",
  "place",
  "sizes_mm",
  "cams_out",
  "diameter_mm",
  "codes",
  "locknut_torque_nm",
  "locknut_torque_lb_ft",
  "locknut_torque_lb_in",
);
const OWNED: Owned = {
  ...names("format", "name", "cylinders", "layout", "banks", "firing_order", "rotation"),
  ...names("firing_intervals_deg", "timing", "lift_mm", "ramp_deg", "valves", "marks"),
  ...names(
    "adjuster",
    "closing_adjuster",
    "maker_chart",
    "notes",
    "valve_train",
    "bridges",
    "cam_drive",
    "torques",
    "parts",
    "tools",
  ),
  ignition: names("kind", "distributor", "start", "stop", "decompression_lever"),
  turning: names("reverse_allowed", "backlash_deg", "with", "why"),
  geometry: names("bore_mm", "stroke_mm", "rod_mm"),
  clearance: {
    ...names("unit", "engine"),
    intake: SPEC,
    exhaust: SPEC,
    brake: SPEC,
    closing: true,
  },
  decompressor: names("role", "opens_cycle_deg", "closes_cycle_deg", "lift_mm", "valves"),
  interval: names("hours", "km", "months", "first_hours"),
};

/** The written file with what stood in source and is none of the editor's. */
export function withCarried(written: Json, source: Json): Json {
  const made = carry(written, source, OWNED);
  if (made.adjuster !== undefined && source.adjuster !== undefined) {
    made.adjuster = adjusters(made.adjuster, source.adjuster);
  }
  const shims = source.closing_adjuster;
  if (shims !== undefined && made.clearance?.closing !== undefined) {
    made.closing_adjuster =
      "kind" in shims && made.closing_adjuster ? adjusters(made.closing_adjuster, shims) : shims;
  }
  const before = new Map((source.valves ?? []).map((valve: Json) => [valve.number, valve]));
  made.valves = made.valves.map((valve: Json) =>
    carry(valve, before.get(valve.number) ?? {}, names("number", "cylinder", "role", "label")),
  );
  return made;
}

/** Only of the same kind: a screw has no diameter of shims. */
function adjusters(written: Json, source: Json): Json {
  if ("kind" in written) {
    return written.kind === source.kind ? carry(written, source, ADJUSTER) : written;
  }
  return Object.fromEntries(
    Object.entries(written).map(([role, one]) => [role, adjusters(one, source[role] ?? {})]),
  );
}

function carry(written: Json, source: Json, tree: Owned): Json {
  const made = { ...written };
  for (const [name, value] of Object.entries(source)) {
    const inside = tree[name];
    if (inside === undefined) made[name] ??= value;
    else if (inside !== true && isObject(made[name]) && isObject(value)) {
      made[name] = carry(made[name], value, inside);
    }
  }
  return made;
}

function isObject(value: unknown): boolean {
  return typeof value === "object" && value !== null && !Array.isArray(value);
}
