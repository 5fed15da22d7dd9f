/** What is typed and the engine file it stands for: nothing lost in either direction. */
import { describe, expect, it } from "vitest";
import { ENGINE_FILE } from "../testing/fixtures";
import { banksOf, type Form, laidOut, listed, renumbered, rolesUsed, toDocument } from "./form";
import { completed, fromDocument } from "./opened";
import { figure } from "./typed";

describe("from an engine file and back", () => {
  it("gives the same file", () => {
    expect(toDocument(fromDocument(ENGINE_FILE))).toEqual(ENGINE_FILE);
  });

  it("gives the same file with cycle angles, a brake rocker, running range, hydraulics", () => {
    const braked = {
      ...ENGINE_FILE,
      timing: { ...ENGINE_FILE.timing, brake: { opens_cycle_deg: 655, closes_cycle_deg: 75 } },
      lift_mm: { ...ENGINE_FILE.lift_mm, brake: 2 },
      valves: [...ENGINE_FILE.valves, { number: 5, cylinder: 1, role: "brake" }],
      clearance: {
        ...ENGINE_FILE.clearance,
        brake: { min: 3.9, max: 4.1, running: { min: 3.8, max: 4.2 } },
      },
      adjuster: { kind: "hydraulic" },
    };
    expect(toDocument(fromDocument(braked))).toEqual(braked);
  });

  it("leaves out what is left empty, and even intervals", () => {
    const { firing_intervals_deg, geometry, decompressor, maker_chart, ...plain } = ENGINE_FILE;
    const form = fromDocument({ ...plain, adjuster: undefined, notes: undefined });
    const written = toDocument(form);
    expect(form.even).toBe(true);
    for (const name of ["firing_intervals_deg", "geometry", "decompressor", "maker_chart"]) {
      expect(written).not.toHaveProperty(name);
    }
    expect(written).not.toHaveProperty("adjuster");
  });
});

describe("what is typed", () => {
  it("is a figure with point, comma or minus sign, or stays as it is", () => {
    expect(["0.25", "0,25", "−5", "", "wide", "1e999"].map(figure)).toEqual([
      0.25,
      0.25,
      -5,
      undefined,
      "wide",
      "1e999",
    ]);
  });

  it("is a list with any separators", () => {
    for (const text of ["1-3-4-2", "1 3 4 2", "1, 3, 4, 2", "1–3–4–2"]) {
      expect(listed(text)).toEqual([1, 3, 4, 2]);
    }
    expect(listed("1 x 2")).toEqual([1, "x", 2]);
    expect(banksOf("1 3 5 / 2 4 6")).toEqual([
      [1, 3, 5],
      [2, 4, 6],
    ]);
  });

  it("goes into the document even where it is wrong, so that the core can say so", () => {
    const form = { ...fromDocument(ENGINE_FILE), ramp: "steep", order: "1-x" };
    expect(toDocument(form)).toMatchObject({ ramp_deg: "steep", firing_order: [1, "x"] });
  });
});

describe("the head", () => {
  it("is laid out along the banks, every second cylinder mirrored", () => {
    const roles = laidOut("1 2 / 3 4", "EI IE").map((v) => `${v.number}${v.cylinder}${v.role[0]}`);
    expect(roles).toEqual(["11e", "21i", "32i", "42e", "53e", "63i", "74i", "84e"]);
    expect(laidOut("1 2", "")).toEqual([]);
  });

  it("keeps banks that mirror each other", () => {
    const valves = laidOut("1 3 / 2 4", "EI / IE");
    expect(valves.map((v) => v.role[0]).join("")).toBe("eieiieie");
    const flat = {
      ...ENGINE_FILE,
      cylinders: 4,
      banks: [
        [1, 3],
        [2, 4],
      ],
      valves,
    };
    expect(fromDocument(flat).head).toBe("EI / IE");
  });

  it("is read back as the shortest words", () => {
    expect(fromDocument(ENGINE_FILE).head).toBe("EI IE");
    const same = { ...ENGINE_FILE, valves: laidOut("1 2", "IE") };
    expect(fromDocument(same).head).toBe("IE");
  });

  it("is numbered by exchanging, so that no number is there twice", () => {
    const after = renumbered(laidOut("1 2", "IE"), 0, "3").map((valve) => valve.number);
    expect(after).toEqual(["3", "2", "1", "4"]);
  });

  it("tells which roles are asked for", () => {
    expect(rolesUsed(fromDocument(ENGINE_FILE))).toEqual(["intake", "exhaust"]);
  });
});

describe("what the editor has no field for", () => {
  const shelf = import.meta.glob<Record<string, unknown>>("../../../demo/engines/*.json", {
    eager: true,
    import: "default",
  });

  it("is on the shelf to be tried", () => {
    expect(Object.keys(shelf).length).toBeGreaterThan(15);
  });

  it.each(Object.entries(shelf))("of %s is carried through, nothing is lost", (_name, document) => {
    const { firing_intervals_deg, ...rest } = document;
    const intervals = firing_intervals_deg as number[] | undefined;
    const written = toDocument(fromDocument(document));
    expect(written).toMatchObject(rest);
    const even = intervals?.every((deg) => deg === 720 / Number(document.cylinders));
    if (intervals && !even) expect(written.firing_intervals_deg).toEqual(intervals);
  });

  it("stays where a figure beside it is changed, and goes with the kind that it belongs to", () => {
    const shims = {
      ...ENGINE_FILE,
      x_store: { bin: "A4" },
      valves: ENGINE_FILE.valves.map((valve) => ({ ...valve, label: `no. ${valve.number}` })),
      adjuster: { ...ENGINE_FILE.adjuster.exhaust, diameter_mm: 9.48, codes: { times: 0.01 } },
    };
    const form = fromDocument(shims);
    const wider = { ...form.adjusters.intake, to: "4" };
    const changed = toDocument({ ...form, adjusters: { ...form.adjusters, intake: wider } });
    expect(changed).toMatchObject({ x_store: { bin: "A4" }, adjuster: { codes: { times: 0.01 } } });
    expect(changed.valves).toContainEqual({
      number: 3,
      cylinder: 2,
      role: "intake",
      label: "no. 3",
    });
    const screw = { ...form.adjusters.intake, kind: "screw" as const };
    const other = toDocument({ ...form, adjusters: { ...form.adjusters, intake: screw } });
    expect(other.adjuster).not.toHaveProperty("diameter_mm");
  });

  it("is replaced where it is typed anew: a torque in another unit", () => {
    const given = { kind: "screw", pitch_mm: 1, screw_at: "valve", locknut_torque_lb_ft: 12 };
    const form = fromDocument({ ...ENGINE_FILE, adjuster: given });
    expect(toDocument(form).adjuster).toEqual(given);
    const typed = { ...form.adjusters.intake, torque: "20", torqueUnit: "nm" as const };
    const changed = toDocument({ ...form, adjusters: { ...form.adjusters, intake: typed } });
    expect(changed.adjuster).toMatchObject({ locknut_torque_nm: 20 });
    expect(changed.adjuster).not.toHaveProperty("locknut_torque_lb_ft");
  });

  it("is little by now: a second clearance, names, codes, pointers, clocks, bridges, trains", () => {
    const whole = {
      ...ENGINE_FILE,
      valves: ENGINE_FILE.valves.map((valve) => ({ ...valve, label: "left" })),
      clearance: {
        ...ENGINE_FILE.clearance,
        intake: { min: 6, max: 8, unit: "thou" },
        closing: { intake: { min: 0, max: 0.05 }, exhaust: { min: 0, max: 0.05 } },
      },
      adjuster: {
        kind: "shim",
        place: "under-follower",
        sizes_mm: { from: 1.8, to: 4.4, step: 0.05 },
        cams_out: false,
        diameter_mm: 8,
        codes: { A: 2.2, B: 2.25 },
      },
      closing_adjuster: {
        kind: "shim",
        place: "under-follower",
        sizes_mm: { from: 5, to: 9.6, step: 0.05 },
        cams_out: false,
      },
      decompressor: { ...ENGINE_FILE.decompressor, valves: [1] },
      marks: [
        { on: "crank", label: "A", deg: 90, means: "stop", cylinders: [1, 2] },
        { on: "cam", label: "•", deg: 0, means: "other", pointer: "head face", clock: 12 },
      ],
      valve_train: { intake: "positive-closing", exhaust: "positive-closing" },
      bridges: ["exhaust"],
      cam_drive: { sprocket_teeth: 40, allow_teeth: 0.5 },
    };
    expect(toDocument(fromDocument(whole))).toEqual(whole);
    const form = fromDocument(whole);
    const bare = { ...form.roles.intake, closingMin: "", closingMax: "" };
    const without = toDocument({
      ...form,
      roles: { ...form.roles, intake: bare, exhaust: { ...bare, unit: "" } },
    });
    expect(without.clearance).not.toHaveProperty("closing");
    expect(without).not.toHaveProperty("closing_adjuster");
  });

  it("of a draft that an older page began is nothing", () => {
    const { torques, interval, source, ...older } = fromDocument(ENGINE_FILE);
    expect(toDocument(completed(older as Form))).toEqual(ENGINE_FILE);
  });
});
