/** The crank and what follows it: painting once a frame, keys, verdicts. */
import { act, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { Crank, shortest, usePaint, useTold } from "./crank";
import type { Table } from "./lookup";
import { dotAt } from "./useDots";
import { useTurningKeys } from "./useTurningKeys";
import { Verdict } from "./Verdict";

let frames: FrameRequestCallback[] = [];
function frame() {
  const due = frames;
  frames = [];
  act(() => {
    for (const callback of due) callback(0);
  });
}

let now = 0;
beforeEach(() => {
  frames = [];
  now = 0;
  vi.spyOn(performance, "now").mockImplementation(() => now);
  vi.stubGlobal("requestAnimationFrame", (callback: FrameRequestCallback) => frames.push(callback));
});

const heel = { state: "heel", settable: true, says: "on its heel" };
const open = { state: "open", settable: false, says: "open, still lifting" };
const TABLE = {
  engine: {
    firing_order: [1, 2],
    cylinders: [
      { cylinder: 1, fire_deg: 0, companion: 2 },
      { cylinder: 2, fire_deg: 360, companion: 1 },
    ],
    valves: [
      { number: 1, cylinder: 1, role: "intake", cycle: "intake" },
      { number: 2, cylinder: 2, role: "intake", cycle: "intake" },
    ],
    marks: [{ on: "crank", label: "T", deg: 10, means: "tdc", crank_degs: [10, 370] }],
  },
  roles: { intake: { lift_mm: [0], gap_mm: [0], margin_deg: [0] } },
  segments: [
    { from_deg: 0, to_deg: 360, stroke: "power", overlap: false, roles: { intake: heel } },
    { from_deg: 360, to_deg: 720, stroke: "intake", overlap: false, roles: { intake: open } },
  ],
  events: [{ crank_deg: 30, says: "intake 1 opens" }],
} as unknown as Table;

type HalfProps = { crank: Crank; onRender: () => void; onPaint: (deg: number) => void };

function Half({ crank, onRender, onPaint }: HalfProps) {
  onRender();
  usePaint(crank, onPaint);
  return <p>{useTold(crank, (deg) => (deg < 360 ? "first" : "second"))}</p>;
}

const SWITCHES = {
  hidden: false,
  rock: vi.fn(),
  real: vi.fn(),
  view: vi.fn(),
  hide: vi.fn(),
  cover: vi.fn(),
  board: vi.fn(),
  keys: vi.fn(),
};

function Keys({ crank, stops }: { crank: Crank; stops: number[] }) {
  useTurningKeys(crank, TABLE, { current: stops }, SWITCHES);
  return <input aria-label="a field" />;
}

describe("the crank", () => {
  it("stays in the cycle, in tenths of a degree", () => {
    const crank = new Crank(725);
    expect(crank.deg).toBe(5);
    crank.set(-0.04);
    expect(crank.deg).toBe(0);
    crank.turn(-10);
    expect(crank.deg).toBe(710);
  });

  it("paints once a frame however often it is turned", () => {
    const crank = new Crank(0);
    const painter = vi.fn();
    crank.onPaint(painter);
    for (let i = 0; i < 20; i++) crank.turn(1);
    expect(painter).not.toHaveBeenCalled();
    frame();
    expect(painter.mock.calls).toEqual([[20, 20]]);
  });

  it("renders words again only when they change", () => {
    const crank = new Crank(0);
    const renders = vi.fn();
    const painted: number[] = [];
    render(<Half crank={crank} onRender={renders} onPaint={(deg) => painted.push(deg)} />);
    for (const deg of [10, 20, 30]) {
      crank.set(deg);
      frame();
    }
    expect(renders).toHaveBeenCalledTimes(1);
    expect(painted.filter((deg, index) => deg !== painted[index - 1])).toEqual([0, 10, 20, 30]);
    crank.set(400);
    now += 60;
    frame();
    expect(screen.getByText("second")).toBeTruthy();
    expect(renders).toHaveBeenCalledTimes(2);
  });

  it("tells words as often as they can be read, and the last ones always", () => {
    const crank = new Crank(0);
    const told = vi.fn();
    crank.subscribe(told);
    for (const deg of [1, 2, 3]) {
      crank.set(deg);
      frame();
      now += 16;
    }
    expect(told).toHaveBeenCalledTimes(1);
    now += 16;
    frame();
    expect(told).toHaveBeenCalledTimes(2);
    expect(frames).toEqual([]);
  });
});

describe("turning as on the engine", () => {
  const real = (turning: { reverseAllowed: boolean; backlashDeg: number }) => {
    const crank = new Crank(100, turning);
    crank.asOnEngine(true);
    return crank;
  };

  it("leaves the cam standing until the slack is taken up", () => {
    const crank = real({ reverseAllowed: true, backlashDeg: 2 });
    crank.turn(-1);
    expect([crank.deg, crank.camDeg]).toEqual([99, 100]);
    crank.turn(-5);
    expect([crank.deg, crank.camDeg]).toEqual([94, 96]);
    crank.turn(1);
    expect([crank.deg, crank.camDeg]).toEqual([95, 96]);
    crank.turn(1);
    expect([crank.deg, crank.camDeg]).toEqual([96, 96]);
    crank.turn(3);
    expect(crank.camDeg).toBe(99);
  });

  it("refuses to go back where one direction is allowed, and goes round instead", () => {
    const crank = real({ reverseAllowed: false, backlashDeg: 0 });
    expect(crank.turn(-1)).toBe(false);
    expect([crank.deg, crank.refused]).toEqual([100, true]);
    crank.set(90);
    expect([crank.deg, crank.turnedDeg, crank.refused]).toEqual([90, 710, false]);
  });

  it("counts what is turned both ways, and forgets it when looking again", () => {
    const crank = real({ reverseAllowed: true, backlashDeg: 2 });
    crank.turn(10);
    crank.turn(-4);
    expect(crank.turnedDeg).toBe(14);
    crank.asOnEngine(false);
    expect([crank.turnedDeg, crank.lagDeg]).toEqual([0, 0]);
    crank.turn(-1);
    expect(crank.camDeg).toBe(crank.deg);
  });

  it("goes the short way under a dragging hand", () => {
    const crank = new Crank(710);
    crank.drag(5);
    expect(crank.deg).toBe(5);
    expect([shortest(710, 5), shortest(5, 710), shortest(0, 360)]).toEqual([15, -15, 360]);
  });
});

describe("the verdict", () => {
  it("names the valves that may be set first, and says why not the others", () => {
    const crank = new Crank(10);
    render(<Verdict table={TABLE} crank={crank} />);
    expect(screen.getByTestId("may-set").textContent).toBe("1");
    expect(screen.getByText(/open, still lifting/)).toBeTruthy();
    crank.set(370);
    frame();
    expect(screen.getByTestId("may-set").textContent).toBe("2");
  });

  it("says none where there is none", () => {
    const shut = {
      ...TABLE,
      segments: [{ ...TABLE.segments[1], from_deg: 0 }],
    } as unknown as Table;
    render(<Verdict table={shut} crank={new Crank(0)} />);
    expect(screen.getByTestId("may-set").textContent).toBe("none");
  });
});

describe("turning by keys", () => {
  it("turns by one, by ten, to firings and to stops", async () => {
    const crank = new Crank(0);
    render(<Keys crank={crank} stops={[90, 270]} />);
    const press = async (keys: string) => {
      await userEvent.keyboard(keys);
      return crank.deg;
    };
    expect(await press("{ArrowRight}")).toBe(1);
    expect(await press("{Shift>}{ArrowLeft}{/Shift}")).toBe(711);
    expect(await press("{Home}")).toBe(0);
    expect(await press("t")).toBe(360);
    expect(await press("n")).toBe(90);
    expect(await press("n")).toBe(270);
    expect(await press("p")).toBe(90);
    await press("{Home}");
    expect(await press("m")).toBe(10);
    expect(await press("{Shift>}m{/Shift}")).toBe(370);
    expect(await press("e")).toBe(30);
    await userEvent.keyboard("?orhb2");
    expect(SWITCHES.view.mock.calls).toEqual([[2]]);
    for (const name of ["keys", "rock", "real", "hide", "board"] as const) {
      expect(SWITCHES[name]).toHaveBeenCalledOnce();
    }
  });

  it("leaves keys alone in a field, and without stops", async () => {
    const crank = new Crank(5);
    render(<Keys crank={crank} stops={[]} />);
    await userEvent.keyboard("n");
    await userEvent.type(screen.getByLabelText("a field"), "t{ArrowRight}");
    expect(crank.deg).toBe(5);
  });
});

describe("a dot of one's own", () => {
  it("is found over the end of the turn too", () => {
    expect(dotAt([90, 359.5], 0.5)).toBe(359.5);
    expect(dotAt([0.5], 359.5)).toBe(0.5);
    expect(dotAt([90], 92.1)).toBeUndefined();
  });
});
