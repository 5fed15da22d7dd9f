/** Name the stroke, overlap and what clearance does, by mouse and keys. */

import { act, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { PUSH_RODS } from "../testing/fixtures";
import { framesAtOnce, serve, show } from "../testing/render";
import { ClearanceView } from "./ClearanceView";
import { Crank } from "./crank";
import type { Table } from "./lookup";
import { NameStroke } from "./NameStroke";
import { OverlapView } from "./OverlapView";
import { Valves } from "./Valves";

const STROKES = ["power", "exhaust", "intake", "compression"];
const heel = { state: "heel", settable: true, says: "on its heel" };
const lifts = Array.from({ length: 720 }, (_, deg) => (deg > 348 && deg < 586 ? 4 : 0));
const role = { lift_mm: lifts, gap_mm: lifts, margin_deg: lifts.map((lift) => 100 - lift) };

function overlap(cylinder: number, at: number) {
  return {
    cylinder,
    overlap_deg: 26,
    starts_deg: at - 12,
    centre_deg: at + 1,
    ends_deg: at + 14,
    centre_past_tdc_deg: 1,
  };
}

const TABLE = {
  engine: {
    firing_order: [1, 2],
    banks: [[1, 2]],
    layout: "inline",
    cylinders: [
      { cylinder: 1, fire_deg: 0, companion: 2 },
      { cylinder: 2, fire_deg: 360, companion: 1 },
    ],
    valves: [
      { number: 1, cylinder: 1, role: "intake", cycle: "intake" },
      { number: 2, cylinder: 2, role: "intake", cycle: "intake" },
    ],
    specs: [{ role: "intake", lift_mm: 8, low_mm: 0.22, high_mm: 0.28, written_in: "mm" }],
    marks: [],
    ...PUSH_RODS,
  },
  roles: { intake: role },
  segments: STROKES.map((stroke, index) => ({
    from_deg: index * 180,
    to_deg: (index + 1) * 180,
    stroke,
    overlap: false,
    roles: { intake: heel },
    signs: { followers: `rockers on ${stroke}`, rods: null, lobes: "clear", air: "none" },
  })),
  overlaps: [overlap(1, 360), overlap(2, 720)],
  events: [],
} as unknown as Table;

beforeEach(() => {
  framesAtOnce();
});

describe("name the stroke", () => {
  it("shows the signs asked for, takes an answer, and keeps the score", async () => {
    vi.spyOn(Math, "random").mockReturnValue(0);
    const crank = new Crank(0);
    // Spun to 5 degrees, where every cylinder is too near to its dead centre: the first is asked.
    show(<NameStroke table={TABLE} crank={crank} onCam={vi.fn()} />);
    expect(screen.queryByText("rockers on power")).toBeNull();
    await userEvent.click(screen.getByRole("button", { name: "Wiggle its rockers" }));
    await screen.findByText("rockers on power");
    await userEvent.click(screen.getByRole("button", { name: "intake" }));
    await screen.findByText("Not intake: cylinder 1 is on power.");
    expect(screen.getByText("0 of 1")).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Spin the crank" }));
    await userEvent.click(screen.getByRole("button", { name: "power" }));
    await screen.findByText("Right: power.");
    expect(screen.getByText("1 of 2")).toBeTruthy();
    vi.restoreAllMocks();
  });

  it("asks to look again when the crank was turned on", async () => {
    const crank = new Crank(0);
    show(<NameStroke table={TABLE} crank={crank} onCam={vi.fn()} />);
    await userEvent.click(screen.getByRole("button", { name: "Thumb on its plug hole" }));
    act(() => {
      crank.turn(10);
    });
    await screen.findByText(/You turned on/);
  });
});

describe("the overlap", () => {
  it("names length, start, centre and end, and how far it is off the dead centre", () => {
    show(<OverlapView table={TABLE} crank={new Crank(355)} rocking={false} onRock={vi.fn()} />);
    const facts = screen.getByText(/of overlap: from/).textContent;
    expect(facts).toContain("26° of overlap: from 348° (intake opens) to 374°");
    expect(facts).toContain("centre 361°, 1° past the dead centre");
    expect(screen.getByText("Cylinder 1")).toBeTruthy();
    expect(screen.getByText("Cylinder 2")).toBeTruthy();
  });

  it("goes to its centre, and to another cylinder's", async () => {
    const crank = new Crank(355);
    show(<OverlapView table={TABLE} crank={crank} rocking={false} onRock={vi.fn()} />);
    await userEvent.click(screen.getByRole("button", { name: "To its centre" }));
    expect(crank.deg).toBe(361);
    await userEvent.selectOptions(screen.getByLabelText(/In overlap/), "2");
    await userEvent.click(screen.getByRole("button", { name: "To its centre" }));
    expect(crank.deg).toBe(1);
  });

  it("says so where there is none", () => {
    const none = { ...overlap(1, 0), overlap_deg: -5, starts_deg: null };
    const table = { ...TABLE, overlaps: [none] } as unknown as Table;
    show(<OverlapView table={table} crank={new Crank(0)} rocking={false} onRock={vi.fn()} />);
    expect(screen.getByText(/shuts 5° before the intake opens/)).toBeTruthy();
  });
});

describe("what clearance does", () => {
  const opening = {
    clearance_mm: 0.25,
    opens_cycle_deg: 348,
    closes_cycle_deg: 586,
    duration_deg: 238,
    lift_mm: 8,
  };
  const curve = { cycle_deg: [300, 400], gap_mm: [0.25, 0], lift_mm: [0, 2] };
  const EFFECT = {
    nominal: opening,
    changed: { ...opening, clearance_mm: 0.5, opens_cycle_deg: 352.4 },
    nominal_curve: curve,
    changed_curve: curve,
    says: ["Loose: opens 4.4° late and closes 4.4° early."],
  };

  it("asks for the clearance as typed, and sets in the wrong place", async () => {
    const calls = serve((call) =>
      call.path.includes("/set-here")
        ? {
            body: {
              crank_deg: 344,
              margin_deg: -12,
              set_mm: 0.5,
              true_mm: 0.66,
              says: "Wrong place: 12° inside its ramp or lobe.",
            },
          }
        : { body: EFFECT },
    );
    const crank = new Crank(344);
    show(<ClearanceView engineId={4} version={null} table={TABLE} crank={crank} unit="mm" />);
    await screen.findByText("352.4°");
    const gap = screen.getByLabelText("Clearance");
    await userEvent.clear(gap);
    await userEvent.type(gap, "0,5");
    await userEvent.click(screen.getByRole("button", { name: "Set it to 0,5 mm here" }));
    await screen.findByText(/Is it right\? Turn to its heel/);
    expect(screen.queryByText(/Wrong place/)).toBeNull();
    await userEvent.click(screen.getByRole("button", { name: /Turn to its heel/ }));
    await screen.findByText(/Wrong place: 12°/);
    expect(screen.getByText(/0\.66 mm \(26 thou\)/)).toBeTruthy();
    const asked = calls.map((call) => call.path);
    expect(asked.some((path) => path.includes("gap=0%2C5&unit=mm"))).toBe(true);
    expect(asked.some((path) => path.includes("crank_deg=344"))).toBe(true);
  });
});

describe("an engine with many cylinders before a class", () => {
  const numbers = [1, 2, 3, 4, 5, 6, 7, 8];
  const eight = {
    ...TABLE,
    engine: {
      ...TABLE.engine,
      firing_order: numbers,
      banks: [numbers.slice(0, 4), numbers.slice(4)],
      cylinders: numbers.map((cylinder) => ({
        cylinder,
        fire_deg: 90 * cylinder,
        companion: null,
      })),
      valves: numbers.map((number) => ({
        ...{ number, cylinder: number, role: "intake", cycle: "intake", label: "" },
      })),
    },
  } as unknown as Table;
  const plan = (bare: boolean) => {
    const crank = new Crank(0);
    show(<Valves table={eight} crank={crank} unit="mm" bare={bare} board />);
  };

  it("has its valves from above, each with its number, and what may be set", () => {
    plan(false);
    const valves = screen.getAllByRole("listitem");
    expect(valves.map((valve) => valve.querySelector("b")?.textContent)).toEqual(
      numbers.map(String),
    );
    expect(valves.every((valve) => valve.dataset.settable === "true")).toBe(true);
  });

  it("tells nothing of that while it is covered", () => {
    plan(true);
    const valves = screen.getAllByRole("listitem");
    expect(valves.some((valve) => valve.dataset.settable !== undefined)).toBe(false);
  });
});
