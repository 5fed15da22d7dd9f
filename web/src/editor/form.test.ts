/** What is typed and the engine file it stands for: nothing lost in either direction. */
import { describe, expect, it } from "vitest";
import { ENGINE_FILE } from "../testing/fixtures";
import {
  banksOf,
  figure,
  fromDocument,
  laidOut,
  listed,
  renumbered,
  rolesUsed,
  toDocument,
} from "./form";

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
