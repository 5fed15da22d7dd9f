/** An engine file as what to type to get it: how an engine, a pattern or an older draft is opened. */
import { aroundOf, TORQUE_UNITS, type TorqueForm } from "./around";
import {
  type AdjusterForm,
  eventNames,
  type Form,
  type MarkForm,
  ROLES,
  type Role,
  type RoleForm,
  type ValveForm,
} from "./form";
import { text } from "./typed";

// biome-ignore lint/suspicious/noExplicitAny: an engine file comes as JSON that the core has read
type Json = any;

/** What to type to get this engine file: how an engine or a pattern is opened. */
export function fromDocument(document: Json): Form {
  const count = Number(document.cylinders);
  const banks: number[][] = document.banks ?? [Array.from({ length: count }, (_, i) => i + 1)];
  const intervals: number[] | undefined = document.firing_intervals_deg;
  const even =
    intervals === undefined || intervals.every((deg) => Math.abs(deg - 720 / count) < 1e-6);
  const bump = document.decompressor;
  const one = document.adjuster === undefined || "kind" in document.adjuster;
  const valves: ValveForm[] = document.valves.map((v: Json) => ({
    number: text(v.number),
    cylinder: v.cylinder,
    role: v.role,
    label: text(v.label),
  }));
  const closingAdjuster = document.closing_adjuster;
  return {
    name: text(document.name),
    cylinders: text(document.cylinders),
    layout: text(document.layout) || (count === 1 ? "single" : "inline"),
    banks: banks.map((bank) => bank.join(" ")).join(" / "),
    order: document.firing_order.join("-"),
    even,
    intervals: (intervals ?? []).map(text).join(" "),
    rotation: text(document.rotation) || "clockwise",
    reverseAllowed: document.turning?.reverse_allowed ?? true,
    backlash: text(document.turning?.backlash_deg ?? 0),
    turnedWith: text(document.turning?.with) || "crank nut",
    head: headOf(banks, valves),
    valves,
    unit: text(document.clearance.unit),
    measured: text(document.clearance.engine) || "cold",
    roles: Object.fromEntries(
      ROLES.map((role) => [role, roleForm(document, role)]),
    ) as Form["roles"],
    ramp: text(document.ramp_deg ?? 15),
    oneAdjuster: one,
    adjusters: Object.fromEntries(
      ROLES.map((role) => [
        role,
        adjusterForm(one ? document.adjuster : document.adjuster?.[role]),
      ]),
    ) as Form["adjusters"],
    closingAdjuster:
      closingAdjuster === undefined || "kind" in closingAdjuster
        ? adjusterForm(closingAdjuster ?? CLOSING_SHIMS)
        : null,
    marks: (document.marks ?? []).map((m: Json) => ({
      on: m.on,
      label: text(m.label),
      deg: text(m.deg),
      means: m.means,
      pointer: text(m.pointer),
      serves: (m.cylinders ?? []).join(" "),
      clock: text(m.clock),
    })),
    chart: (document.maker_chart ?? []).map((stop: Json) => ({
      deg: text(stop.crank_deg),
      valves: stop.set.join(" "),
    })),
    bore: text(document.geometry?.bore_mm),
    stroke: text(document.geometry?.stroke_mm),
    rod: text(document.geometry?.rod_mm),
    bump: {
      on: bump !== undefined,
      role: bump?.role ?? "exhaust",
      opens: text(bump?.opens_cycle_deg ?? 630),
      closes: text(bump?.closes_cycle_deg ?? 700),
      lift: text(bump?.lift_mm ?? 0.6),
      valves: (bump?.valves ?? []).join(" "),
    },
    notes: text(document.notes),
    why: text(document.turning?.why),
    ...aroundOf(document),
    source: document,
  };
}

/** The shortest head that gives these valves, like `EI IE`, or `EI / IE` where banks differ. */
function headOf(banks: readonly number[][], valves: readonly ValveForm[]): string {
  const heads = banks.map((bank) => wordsOf(bank, valves));
  return heads.every((head) => head === heads[0]) ? (heads[0] ?? "") : heads.join(" / ");
}

function wordsOf(bank: readonly number[], valves: readonly ValveForm[]): string {
  const words = bank.map((cylinder) =>
    valves
      .filter((valve) => valve.cylinder === cylinder)
      .map((valve) => (valve.role[0] ?? "").toUpperCase())
      .join(""),
  );
  const repeats = (length: number) => words.every((word, at) => word === words[at % length]);
  for (let length = 1; length < words.length; length++) {
    if (repeats(length)) return words.slice(0, length).join(" ");
  }
  return words.join(" ");
}

function roleForm(document: Json, role: Role): RoleForm {
  const events = document.timing[role] ?? {};
  const timingAs = role === "brake" || "opens_cycle_deg" in events ? "cycle" : "dead-centres";
  const [opens, closes] = eventNames(role, timingAs);
  const given = document.clearance[role] ?? {};
  return {
    timingAs,
    opens: text(events[opens]),
    closes: text(events[closes]),
    lift: text(document.lift_mm?.[role]),
    specAs: "nominal" in given ? "nominal" : "range",
    min: text(given.min),
    max: text(given.max),
    nominal: text(given.nominal),
    minus: text(given.minus),
    plus: text(given.plus),
    runningMin: text(given.running?.min),
    runningMax: text(given.running?.max),
    runningMeasured: text(given.running?.measured),
    unit: text(given.unit),
    ...closingOf(document.clearance.closing?.[role]),
    train: typeof document.valve_train === "object" ? text(document.valve_train[role]) : "",
    bridged: (document.bridges ?? []).includes(role),
  };
}

/** A second clearance as its two limits, however it is printed. */
function closingOf(given: Json) {
  if (given === undefined) return { closingMin: "", closingMax: "" };
  if (!("nominal" in given)) return { closingMin: text(given.min), closingMax: text(given.max) };
  const round = (figure: number) => text(Number(figure.toFixed(4)));
  return {
    closingMin: round(given.nominal - (given.minus ?? 0)),
    closingMax: round(given.nominal + (given.plus ?? 0)),
  };
}

const CLOSING_SHIMS = {
  kind: "shim",
  place: "under-follower",
  sizes_mm: { from: 5, to: 9.6, step: 0.05 },
};

function adjusterForm(given: Json): AdjusterForm {
  return {
    kind: given?.kind ?? "none",
    pitch: text(given?.pitch_mm ?? 1),
    screwAt: given?.screw_at ?? "valve",
    ratio: text(given?.rocker_ratio),
    torque: text(given?.[`locknut_torque_${torqueUnitOf(given)}`]),
    torqueUnit: torqueUnitOf(given),
    place: given?.place ?? "under-bucket",
    from: text(given?.sizes_mm?.from ?? 1.2),
    to: text(given?.sizes_mm?.to ?? 3.5),
    step: text(given?.sizes_mm?.step ?? 0.05),
    camsOut: given?.cams_out ?? false,
    diameter: text(given?.diameter_mm),
    codes: codesText(given?.codes),
  };
}

function torqueUnitOf(given: Json): TorqueForm["unit"] {
  const units = TORQUE_UNITS.map(([name]) => name);
  return units.find((name) => given?.[`locknut_torque_${name}`] !== undefined) ?? "nm";
}

/** A draft that an older page began, with the fields that it did not know. */
export function completed(draft: Partial<Form>): Form {
  const whole = { ...aroundOf({}), why: "", source: {}, ...draft } as Form;
  const blank = fromDocument({
    cylinders: 1,
    firing_order: [1],
    valves: [],
    timing: {},
    clearance: {},
  });
  return {
    ...whole,
    closingAdjuster: whole.closingAdjuster ?? blank.closingAdjuster,
    bump: { ...blank.bump, ...whole.bump },
    marks: whole.marks.map((one) => ({ ...NO_MARK, ...one })),
    valves: whole.valves.map((one) => ({ ...one, label: one.label ?? "" })),
    roles: perRole((role) => ({ ...blank.roles[role], ...whole.roles[role] })),
    adjusters: perRole((role) => ({ ...blank.adjusters[role], ...whole.adjusters[role] })),
  };
}

export const NO_MARK: MarkForm = {
  on: "crank",
  label: "T",
  deg: "0",
  means: "tdc",
  pointer: "",
  serves: "",
  clock: "",
};

function perRole<T>(make: (role: Role) => T): Record<Role, T> {
  return Object.fromEntries(ROLES.map((role) => [role, make(role)])) as Record<Role, T>;
}

// biome-ignore lint/suspicious/noExplicitAny: as the file has it
function codesText(given: any): string {
  if (given === undefined) return "";
  if (given.times !== undefined) return `× ${given.times}`;
  return Object.entries(given)
    .map(([code, size]) => `${code} = ${size}`)
    .join(", ");
}
