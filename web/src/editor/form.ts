/**
 * What is typed into the editor, and the engine file it stands for.
 *
 * Every figure is kept as it was typed. A text that is no number goes into the document as
 * text, so that the one reader (in the core) says what is wrong with it and where; nothing that
 * was typed is lost.
 */
import { type Around, around, type TorqueForm } from "./around";
import { withCarried } from "./carried";
import { figure } from "./typed";

export type Role = "intake" | "exhaust" | "brake";
export const ROLES: readonly Role[] = ["intake", "exhaust", "brake"];

export type RoleForm = {
  timingAs: "dead-centres" | "cycle";
  opens: string;
  closes: string;
  lift: string;
  specAs: "range" | "nominal";
  min: string;
  max: string;
  nominal: string;
  minus: string;
  plus: string;
  runningMin: string;
  runningMax: string;
  runningMeasured: string;
  /** Of its own; empty: that of all clearances. */
  unit: string;
  /** The second clearance of a valve that is pulled shut. */
  closingMin: string;
  closingMax: string;
  /** Its valve train where roles differ. */
  train: string;
  bridged: boolean;
};

export type AdjusterForm = {
  kind: "none" | "screw" | "shim" | "hydraulic";
  pitch: string;
  screwAt: "valve" | "pushrod";
  ratio: string;
  torque: string;
  torqueUnit: TorqueForm["unit"];
  place: "under-bucket" | "over-bucket" | "under-follower";
  from: string;
  to: string;
  step: string;
  camsOut: boolean;
  diameter: string;
  /** What is stamped on them: `× 0.01`, or `A = 2.20, B = 2.25`. */
  codes: string;
};

export type ValveForm = { number: string; cylinder: number; role: Role; label: string };
export type MarkForm = {
  on: string;
  label: string;
  deg: string;
  means: string;
  pointer: string;
  /** The cylinders that it serves. */
  serves: string;
  clock: string;
};
export type ChartForm = { deg: string; valves: string };

export type Form = Around & {
  name: string;
  cylinders: string;
  layout: string;
  banks: string;
  order: string;
  even: boolean;
  intervals: string;
  rotation: string;
  reverseAllowed: boolean;
  backlash: string;
  turnedWith: string;
  head: string;
  valves: ValveForm[];
  unit: string;
  measured: string;
  roles: Record<Role, RoleForm>;
  ramp: string;
  oneAdjuster: boolean;
  adjusters: Record<Role, AdjusterForm>;
  /** Of the closing gaps, all alike; null where the file has one for each role, which stays. */
  closingAdjuster: AdjusterForm | null;
  marks: MarkForm[];
  chart: ChartForm[];
  bore: string;
  stroke: string;
  rod: string;
  bump: { on: boolean; role: Role; opens: string; closes: string; lift: string; valves: string };
  notes: string;
  why: string;
};

/** How a step of the editor tells what was typed. */
export type Change = (part: Partial<Form>) => void;

// biome-ignore lint/suspicious/noExplicitAny: an engine file comes as JSON that the core has read
type Json = any;

/** A list typed with any separators: 1-3-4-2, 1 3 4 2, 1,3,4,2. */
export function listed(typed: string): (number | string)[] {
  return typed
    .split(/[\s,;–>-]+/)
    .filter((word) => word !== "")
    .map((word) => figure(word) ?? word);
}

/** Banks are typed one after the other with a stroke between: 1 3 5 / 2 4 6. */
export function banksOf(typed: string): (number | string)[][] {
  return typed
    .split("/")
    .map(listed)
    .filter((bank) => bank.length > 0);
}

const HEAD_LETTERS: Record<string, Role> = { i: "intake", e: "exhaust", b: "brake" };

/**
 * The valves of a head laid out afresh: each bank from the front, each cylinder by the next word
 * of the head (`EI IE` mirrors every second cylinder; `EI / IE` every second bank), numbered
 * from 1.
 */
export function laidOut(banks: string, head: string): ValveForm[] {
  const heads = head.toLowerCase().split("/");
  const valves: ValveForm[] = [];
  banksOf(banks).forEach((bank, line) => {
    const words = (heads[line % heads.length] ?? "").split(/\s+/).filter(Boolean);
    bank.forEach((cylinder, place) => {
      const word = words[place % Math.max(1, words.length)] ?? "";
      for (const letter of word) {
        const role = HEAD_LETTERS[letter];
        if (role && typeof cylinder === "number") {
          valves.push({ number: String(valves.length + 1), cylinder, role, label: "" });
        }
      }
    });
  });
  return valves;
}

/** Gives a valve this number; whoever had it takes the other's, so that none is there twice. */
export function renumbered(valves: readonly ValveForm[], index: number, number: string) {
  const before = valves[index]?.number ?? number;
  return valves.map((valve, at) => {
    if (at === index) return { ...valve, number };
    return valve.number === number ? { ...valve, number: before } : valve;
  });
}

export function rolesUsed(form: Form): Role[] {
  return ROLES.filter((role) => form.valves.some((valve) => valve.role === role));
}

const EVENTS: Record<Role, [string, string]> = {
  intake: ["opens_btdc", "closes_abdc"],
  exhaust: ["opens_bbdc", "closes_atdc"],
  brake: ["opens_cycle_deg", "closes_cycle_deg"],
};

export function eventNames(role: Role, timingAs: string): [string, string] {
  return timingAs === "cycle" ? EVENTS.brake : EVENTS[role];
}

/** The engine file, with whatever is typed in it, right or wrong. */
export function toDocument(form: Form): Record<string, unknown> {
  const roles = rolesUsed(form);
  const perRole = <T>(make: (role: Role) => T) =>
    Object.fromEntries(roles.map((role) => [role, make(role)]));
  const written = plain({
    format: "edrix-engine/1",
    name: form.name,
    cylinders: figure(form.cylinders),
    layout: form.layout,
    banks: banksOf(form.banks),
    firing_order: listed(form.order),
    firing_intervals_deg: form.even ? undefined : listed(form.intervals),
    rotation: form.rotation,
    turning: {
      reverse_allowed: form.reverseAllowed,
      backlash_deg: figure(form.backlash) ?? 0,
      with: form.turnedWith || undefined,
      why: form.why || undefined,
    },
    geometry: geometry(form),
    timing: perRole((role) => timing(role, form.roles[role])),
    lift_mm: perRole((role) => figure(form.roles[role].lift)),
    ramp_deg: figure(form.ramp),
    valves: form.valves.map((v) => ({
      number: figure(v.number),
      cylinder: v.cylinder,
      role: v.role,
      label: v.label || undefined,
    })),
    clearance: {
      unit: form.unit,
      engine: form.measured,
      ...perRole((role) => spec(form.roles[role], form.unit)),
      closing: closing(form, roles),
    },
    adjuster: adjusters(form, roles),
    closing_adjuster:
      form.closingAdjuster && closing(form, roles) ? adjuster(form.closingAdjuster) : undefined,
    decompressor: form.bump.on
      ? {
          role: form.bump.role,
          opens_cycle_deg: figure(form.bump.opens),
          closes_cycle_deg: figure(form.bump.closes),
          lift_mm: figure(form.bump.lift),
          valves: form.bump.valves.trim() ? listed(form.bump.valves) : undefined,
        }
      : undefined,
    marks: form.marks.map(mark),
    maker_chart: form.chart.length
      ? form.chart.map((stop) => ({ crank_deg: figure(stop.deg), set: listed(stop.valves) }))
      : undefined,
    notes: form.notes || undefined,
    ...around(form, roles),
  });
  return withCarried(written, form.source ?? {});
}

function geometry(form: Form) {
  if (!form.bore && !form.stroke && !form.rod) return undefined;
  return {
    bore_mm: figure(form.bore),
    stroke_mm: figure(form.stroke),
    rod_mm: figure(form.rod),
  };
}

function timing(role: Role, given: RoleForm) {
  const [opens, closes] = eventNames(role, given.timingAs);
  return { [opens]: figure(given.opens), [closes]: figure(given.closes) };
}

function mark({ pointer, serves, clock, ...given }: MarkForm) {
  return {
    ...given,
    deg: figure(given.deg),
    pointer: pointer || undefined,
    cylinders: serves.trim() ? listed(serves) : undefined,
    clock: given.on === "cam" ? figure(clock) : undefined,
  };
}

function closing(form: Form, roles: readonly Role[]) {
  const given = roles.filter((role) => form.roles[role].closingMin || form.roles[role].closingMax);
  if (given.length === 0) return undefined;
  return Object.fromEntries(
    given.map((role) => {
      const { closingMin, closingMax } = form.roles[role];
      return [role, { min: figure(closingMin), max: figure(closingMax) }];
    }),
  );
}

function spec(given: RoleForm, common: string) {
  const unit = given.unit && given.unit !== common ? given.unit : undefined;
  const running =
    given.runningMin || given.runningMax
      ? {
          min: figure(given.runningMin),
          max: figure(given.runningMax),
          measured: given.runningMeasured || undefined,
        }
      : undefined;
  if (given.specAs === "nominal") {
    return {
      nominal: figure(given.nominal),
      minus: figure(given.minus),
      plus: figure(given.plus),
      unit,
      running,
    };
  }
  return { min: figure(given.min), max: figure(given.max), unit, running };
}

function adjusters(form: Form, roles: readonly Role[]) {
  if (form.oneAdjuster) return adjuster(form.adjusters[roles[0] ?? "intake"]);
  const given = roles.map((role) => [role, adjuster(form.adjusters[role])] as const);
  return Object.fromEntries(given.filter(([, made]) => made !== undefined));
}

function adjuster(given: AdjusterForm) {
  if (given.kind === "none") return undefined;
  if (given.kind === "hydraulic") return { kind: "hydraulic" };
  if (given.kind === "screw") {
    return {
      kind: "screw",
      pitch_mm: figure(given.pitch),
      screw_at: given.screwAt,
      rocker_ratio: given.screwAt === "pushrod" ? figure(given.ratio) : undefined,
      [`locknut_torque_${given.torqueUnit}`]: figure(given.torque),
    };
  }
  return {
    kind: "shim",
    place: given.place,
    sizes_mm: { from: figure(given.from), to: figure(given.to), step: figure(given.step) },
    cams_out: given.camsOut,
    diameter_mm: figure(given.diameter),
    codes: codes(given.codes),
  };
}

/** `× 0.01` is a count of so much; else code by code. What is neither is left for the core to say. */
function codes(typed: string) {
  const trimmed = typed.trim();
  if (trimmed === "") return undefined;
  const times = /^[x×*]\s*(.+)$/i.exec(trimmed)?.[1];
  if (times !== undefined) return { times: figure(times) };
  return Object.fromEntries(
    trimmed.split(/[,;\n]+/).map((pair) => {
      const [code = "", size = ""] = pair.split("=").map((part) => part.trim());
      return [code, figure(size) ?? ""];
    }),
  );
}

/** Without the fields that are undefined, at any depth. */
function plain(value: Json): Json {
  if (Array.isArray(value)) return value.map(plain);
  if (value === null || typeof value !== "object") return value;
  return Object.fromEntries(
    Object.entries(value)
      .filter(([, inside]) => inside !== undefined)
      .map(([key, inside]) => [key, plain(inside)]),
  );
}
