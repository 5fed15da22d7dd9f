/** The section: parts by the valve train, the gap with its figure, the crank dragged in it. */
import { fireEvent, screen, waitFor } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { PUSH_RODS } from "../testing/fixtures";
import { framesAtOnce, show } from "../testing/render";
import { Crank } from "./crank";
import type { Table } from "./lookup";
import { SectionView } from "./SectionView";
import { brakeOver, chamberOf, frameOf, gearIn, valvePath } from "./sectionGeometry";

const OPEN = Array.from({ length: 720 }, (_, deg) => Math.max(0, 8 - Math.abs(deg - 450) / 10));
const GAP = OPEN.map((lift) => (lift > 0 ? 0 : 0.25));
const heel = { state: "heel", settable: true, says: "on its heel" };
const CAM = {
  base_mm: 13,
  pad_mm: 0,
  ratio: 1.5,
  short_mm: 0,
  x_mm: [0, 13, 0, -13],
  y_mm: [18, 0, -13, 0],
};

const TABLE = {
  engine: {
    name: "Pump",
    rotation: "clockwise",
    marks: [{ on: "crank", label: "T", deg: 0, means: "tdc" }],
    cylinders: [
      { cylinder: 1, fire_deg: 0, companion: null },
      { cylinder: 2, fire_deg: 180, companion: null },
    ],
    valves: [
      { number: 1, cylinder: 1, role: "intake", cycle: "intake", label: "" },
      { number: 2, cylinder: 1, role: "intake", cycle: "intake", label: "" },
      { number: 3, cylinder: 2, role: "intake", cycle: "intake", label: "" },
    ],
    ...PUSH_RODS,
  },
  roles: { intake: { lift_mm: OPEN, gap_mm: GAP, margin_deg: GAP.map(() => 30) } },
  segments: [
    { from_deg: 0, to_deg: 720, stroke: "power", roles: { intake: heel }, overlap: false },
  ],
  section: {
    bore_mm: 80,
    stroke_mm: 80,
    rod_mm: 140,
    to_scale: true,
    piston_mm: Array.from({ length: 720 }, () => 10),
    cams: { intake: CAM },
  },
} as unknown as Table;

beforeEach(() => {
  framesAtOnce();
});

const train = (kind: string) => ({ ...PUSH_RODS.trains.intake, kind }) as never;
const WHERE = { x: -20, side: -1 as const, boreMm: 80, deckY: -208, clearanceMm: 0.25 };

describe("the section", () => {
  it("tells gap and place of the chosen cylinder, and which valve is alike", async () => {
    show(<SectionView table={TABLE} crank={new Crank(40)} />);
    expect(await screen.findByText("0.25 mm")).toBeTruthy();
    expect(screen.getByText("9.8 thou")).toBeTruthy();
    expect(screen.getByText(/valve 2 alike/)).toBeTruthy();
    expect(screen.getByText("Cylinder 1: 40° past firing TDC, power.")).toBeTruthy();
    fireEvent.click(screen.getByRole("radio", { name: "2" }));
    expect(await screen.findByText("Cylinder 2: 140° before firing TDC, power.")).toBeTruthy();
  });

  it("turns the crank as a hand on the throw does", async () => {
    const crank = new Crank(0);
    show(<SectionView table={TABLE} crank={crank} />);
    const cut = await screen.findByRole("img", { name: /cut open/ });
    const svg = cut as unknown as SVGSVGElement;
    const frame = svg.getAttribute("viewBox")?.split(" ").map(Number) ?? [];
    const [left = 0, top = 0, width = 0, height = 0] = frame;
    vi.spyOn(svg, "getBoundingClientRect").mockReturnValue({
      left: 0,
      top: 0,
      width,
      height,
    } as DOMRect);
    const point = (name: string, x: number, y: number) =>
      fireEvent(cut, new MouseEvent(name, { clientX: x - left, clientY: y - top, bubbles: true }));
    point("pointerdown", 0, -40);
    point("pointermove", 40, 0);
    await waitFor(() => expect(crank.deg).toBeCloseTo(90, 0));
    point("pointerup", 40, 0);
    point("pointermove", 0, 40);
    expect(crank.deg).toBeCloseTo(90, 0);
  });

  it("says where sizes are only the usual ones", async () => {
    const usual = { ...TABLE, section: { ...TABLE.section, to_scale: false } };
    show(<SectionView table={usual} crank={new Crank(0)} />);
    expect(await screen.findByText(/usual proportions/)).toBeTruthy();
  });
});

describe("a valve that is pulled shut", () => {
  const closing = { base_mm: 20, x_mm: [20, 0, -20, 0], y_mm: [0, 20, 0, -12] };
  const gear = gearIn(train("positive-closing"), { ...CAM, closing }, WHERE);

  it("has a second rocker, whose pad lies under the round of the closing lobe", () => {
    expect(gear.closing).toBeDefined();
    expect(gear.closing?.pivot.y).toBeLessThan(gear.cam.y + closing.base_mm);
    expect(gear.closing?.rocker).toContain(String(gear.cam.y + closing.base_mm));
  });

  it("turns it the other way as the valve opens, and not at rest", () => {
    expect(gear.moves(0).closingDeg).toBeCloseTo(0);
    expect(Math.abs(gear.moves(8).closingDeg ?? 0)).toBeGreaterThan(1);
  });

  it("has none where a spring shuts it", () => {
    expect(gearIn(train("overhead-rocker"), CAM, WHERE).closing).toBeUndefined();
  });
});

describe("the parts of a valve", () => {
  it.each([
    ["bucket", false],
    ["finger", false],
    ["overhead-rocker", true],
    ["pushrod-rocker", true],
    ["positive-closing", true],
    ["side-valve", true],
  ])(
    "of %s: the cam lies where it is, and its heel clears the follower by the gap",
    (kind, below) => {
      const gear = gearIn(train(kind), CAM, WHERE);
      expect(gear.camBelow).toBe(below);
      expect(gear.headUp).toBe(kind === "side-valve");
      expect(gear.rod !== "").toBe(kind === "pushrod-rocker");
      const frame = frameOf(TABLE.section, [gear]);
      expect(gear.cam.y).toBeGreaterThan(frame.top);
      expect(gear.tipY).toBeGreaterThan(frame.top);
    },
  );

  it("a rocker's end follows its valve down, a push rod goes up by the lift over the ratio", () => {
    const gear = gearIn(train("pushrod-rocker"), CAM, WHERE);
    const moved = gear.moves(6);
    expect(moved.valve).toBe(6);
    expect(moved.rod).toBeCloseTo(-4);
    if (typeof moved.follower === "number" || gear.pivot === null) throw new Error("it tilts");
    // The valve's end lies right of its pivot here: turned about it, it goes down by 6 mm.
    const arm = gear.x - gear.pivot.x;
    const down = arm * Math.tan((moved.follower.deg * Math.PI) / 180);
    expect(down).toBeCloseTo(6);
  });

  it("leaves the piston its room below the head", () => {
    const chamber = chamberOf(TABLE.section);
    expect(-chamber.deckY).toBeGreaterThan(40 + 140);
  });
});

describe("a cylinder with more than one valve of a role", () => {
  const heldTable = {
    ...TABLE,
    engine: {
      ...TABLE.engine,
      valves: [
        { number: 1, cylinder: 1, role: "intake", cycle: "intake", label: "" },
        { number: 2, cylinder: 1, role: "intake", cycle: "intake-held", label: "" },
        { number: 3, cylinder: 1, role: "intake", cycle: "intake", label: "" },
      ],
    },
    roles: {
      ...TABLE.roles,
      "intake-held": {
        lift_mm: OPEN.map(() => 1),
        gap_mm: GAP.map(() => 0),
        margin_deg: GAP.map(() => -20),
      },
    },
    segments: [
      {
        ...TABLE.segments[0],
        roles: { intake: heel, "intake-held": { ...heel, settable: false, says: "held open" } },
      },
    ],
  } as unknown as Table;

  it("lists the one that a decompressor lifts by itself, and calls only the others alike", async () => {
    show(<SectionView table={heldTable} crank={new Crank(40)} />);
    expect(await screen.findByText(/valve 3 alike/)).toBeTruthy();
    expect(screen.queryByText(/valve .*2.* alike/)).toBeNull();
    expect(screen.getByText("open 1.00 mm")).toBeTruthy();
    expect(screen.getByText(/held open/)).toBeTruthy();
  });
});

describe("a brake rocker", () => {
  const bridged = { ...PUSH_RODS.trains.intake, kind: "pushrod-rocker", bridged: true } as never;
  const exhaust = gearIn(bridged, CAM, { ...WHERE, x: 20, side: 1 });
  const brake = brakeOver(train("pushrod-rocker"), CAM, exhaust, { ...WHERE, side: 1 });

  it("has no valve of its own, and its pin comes down on the exhaust valves' bridge", () => {
    expect([exhaust.hasValve, brake.hasValve]).toEqual([true, false]);
    expect(exhaust.bridge).not.toBe("");
    expect(brake.tipY).toBeLessThan(exhaust.tipY);
    expect(brake.follower).toContain(`V${exhaust.tipY - 6}`);
  });

  it("stands clear of the exhaust rocker's lobe", () => {
    expect(brake.cam.x - exhaust.cam.x).toBeGreaterThan(1.5 * CAM.base_mm);
  });

  it("draws two stems under a bridge", () => {
    expect(valvePath(exhaust, 16, 80).match(/M/g)).toHaveLength(2);
    expect(valvePath(gearIn(train("pushrod-rocker"), CAM, WHERE), 16, 80).match(/M/g)).toHaveLength(
      1,
    );
  });
});
