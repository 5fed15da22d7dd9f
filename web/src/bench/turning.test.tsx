/** The crank and what follows it: painting once a frame, keys, verdicts. */
import { act, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { Crank, usePaint, useTold } from "./crank";
import type { Table } from "./lookup";
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

beforeEach(() => {
  frames = [];
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
      { number: 1, cylinder: 1, role: "intake" },
      { number: 2, cylinder: 2, role: "intake" },
    ],
  },
  roles: { intake: { lift_mm: [0], gap_mm: [0], margin_deg: [0] } },
  segments: [
    { from_deg: 0, to_deg: 360, stroke: "power", overlap: false, roles: { intake: heel } },
    { from_deg: 360, to_deg: 720, stroke: "intake", overlap: false, roles: { intake: open } },
  ],
} as unknown as Table;

type HalfProps = { crank: Crank; onRender: () => void; onPaint: (deg: number) => void };

function Half({ crank, onRender, onPaint }: HalfProps) {
  onRender();
  usePaint(crank, onPaint);
  return <p>{useTold(crank, (deg) => (deg < 360 ? "first" : "second"))}</p>;
}

const showKeys = vi.fn();

function Keys({ crank, stops }: { crank: Crank; stops: number[] }) {
  useTurningKeys(crank, TABLE, { current: stops }, showKeys);
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
    expect(painter.mock.calls).toEqual([[20]]);
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
    expect(painted).toEqual([0, 10, 20, 30]);
    crank.set(400);
    frame();
    expect(screen.getByText("second")).toBeTruthy();
    expect(renders).toHaveBeenCalledTimes(2);
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
    await userEvent.keyboard("?");
    expect(showKeys).toHaveBeenCalledOnce();
  });

  it("leaves keys alone in a field, and without stops", async () => {
    const crank = new Crank(5);
    render(<Keys crank={crank} stops={[]} />);
    await userEvent.keyboard("n");
    await userEvent.type(screen.getByLabelText("a field"), "t{ArrowRight}");
    expect(crank.deg).toBe(5);
  });
});
