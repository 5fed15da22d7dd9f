/** The route card: complete and incomplete plans, choices kept in the address. */
import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { problem, serve, show } from "../testing/render";
import RouteCardPage from "./RouteCardPage";
import { schoolName } from "./schools";

const CYCLE = {
  engine: {
    name: "Pump",
    rotation: "clockwise",
    measured: "cold",
    firing_order: [1, 3, 4, 2],
    specs: [
      { role: "intake", low_mm: 0.22, high_mm: 0.28, low_thou: 8.66, high_thou: 11.02, lift_mm: 8 },
    ],
    valves: [{ number: 1, cylinder: 1, role: "intake" }],
  },
};
const STOP = {
  stop: 1,
  crank_deg: 107.5,
  turn_deg: 107.5,
  cylinders: [1],
  valves: [1],
  margin_deg: 12,
  find_by: "mark “0” lines up",
};
const PLAN = {
  method: "two-stop",
  complete: true,
  stops: [STOP],
  unset: [],
  total_turn_deg: 107.5,
  least_margin_deg: 12,
  warnings: [],
};

function open(plan: object) {
  const calls = serve((call) =>
    call.path.includes("/cycle") ? { body: CYCLE } : { body: { ...PLAN, ...plan } },
  );
  show(<RouteCardPage />, { path: "/route/4?version=2", route: "/route/:engineId" });
  return calls;
}

describe("the route card", () => {
  it("shows each stop with angle, turn, recognition, valves and margin", async () => {
    open({});
    await screen.findByText("mark “0” lines up");
    expect(screen.getByText(/Every valve is set once/)).toBeTruthy();
    expect(screen.getAllByText("107.5°")).toHaveLength(2);
    expect(screen.getByTitle("valve 1, intake")).toBeTruthy();
    const way = screen.getByRole("link", { name: "Open stop 1 on the Bench" });
    expect(way.getAttribute("href")).toBe("/bench/4?at=107.5&method=two-stop&version=2");
  });

  it("says what a route leaves unset, and why", async () => {
    open({
      complete: false,
      unset: [3, 7],
      least_margin_deg: null,
      stops: [{ ...STOP, valves: [], margin_deg: null }],
      warnings: ["Valve 3 is off its heel at 0°: it is 6 degrees inside its ramp or lobe."],
    });
    await screen.findByText(/does not serve this engine whole/);
    expect(screen.getByText(/Not set: valves 3, 7/)).toBeTruthy();
    expect(screen.getByText(/6 degrees inside/)).toBeTruthy();
  });

  it("asks for the school and direction that are chosen", async () => {
    const calls = open({});
    await userEvent.selectOptions(
      await screen.findByLabelText("School of sequence"),
      "Opposite valve",
    );
    await userEvent.click(screen.getByLabelText("Backwards"));
    await screen.findByText(/^Route card · Opposite valve: with one valve fully open/);
    const last = calls.at(-1)?.path ?? "";
    expect(last).toContain("method=opposite-valve");
    expect(last).toContain("direction=reverse");
    expect(last).toContain("version=2");
  });

  it("defers to rules, manual and supervision", async () => {
    open({});
    await screen.findByText(/Local rules, the maker's manual/);
  });

  it("says what the server says", async () => {
    serve(() => ({ status: 404, body: problem(404, "There is no engine 4; choose one.") }));
    show(<RouteCardPage />, { path: "/route/4", route: "/route/:engineId" });
    await screen.findByText("There is no engine 4; choose one.");
  });

  it("calls schools by their names", () => {
    expect(schoolName("two-stop")).toBe("Two stops");
    expect(schoolName("by-ear")).toBe("by-ear");
  });
});
