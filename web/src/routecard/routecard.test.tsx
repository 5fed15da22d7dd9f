/** The route card: complete and incomplete plans, choices kept in the address. */
import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { CAUTIONS, PUSH_RODS } from "../testing/fixtures";
import { problem, saying, serve, show } from "../testing/render";
import MethodsPage from "./MethodsPage";
import RouteCardPage from "./RouteCardPage";

const CYCLE = {
  engine: {
    name: "Pump",
    rotation: "clockwise",
    ...PUSH_RODS,
    measured: "cold",
    firing_order: [1, 3, 4, 2],
    best_method: "two-stop",
    specs: [
      {
        role: "intake",
        low_mm: 0.22,
        high_mm: 0.28,
        says: "0.22–0.28 mm",
        says_other: "8.7–11 thou",
        lift_mm: 8,
      },
    ],
    valves: [{ number: 1, cylinder: 1, role: "intake" }],
    adjusters: { intake: "shim" },
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
  if_overshot: "Overshot? Bump back past it.",
};

function open(
  plan: object,
  query = "version=2",
  address: string | null = "http://192.0.2.7:8000/",
) {
  const calls = serve((call) =>
    call.path.includes("/cautions")
      ? { body: CAUTIONS }
      : call.path.includes("/cycle")
        ? { body: CYCLE }
        : call.path === "/api/address"
          ? { body: { address } }
          : { body: { ...PLAN, ...plan } },
  );
  show(<RouteCardPage />, { path: `/route/4?${query}`, route: "/route/:engineId" });
  return calls;
}

describe("the route card", () => {
  it("prints no code that leads a phone to itself", async () => {
    open({}, "version=2&sheet=12", null);
    await screen.findByText(/No code: phones can’t open this Edrix/);
    expect(screen.queryByAltText(/QR code/)).toBeNull();
  });

  it("shows each stop with angle, turn, recognition, valves and margin", async () => {
    open({});
    await screen.findByText(saying("mark “0” lines up"));
    expect(screen.getByText(/Every valve is set once/)).toBeTruthy();
    expect(screen.getAllByText("107.5°")).toHaveLength(2);
    expect(screen.getByTitle("valve 1, intake")).toBeTruthy();
    const way = screen.getByRole("link", { name: "Open stop 1 on the Bench" });
    expect(way.getAttribute("href")).toBe("/bench/4?method=two-stop&version=2&at=107.5");
  });

  it("says what a route leaves unset, and why", async () => {
    open({
      complete: false,
      unset: [3, 7],
      least_margin_deg: null,
      stops: [{ ...STOP, valves: [], margin_deg: null }],
      warnings: ["Valve 3 is off its heel at 0°: it is 6 degrees inside its ramp or lobe."],
    });
    await screen.findByText(/does not cover every valve/);
    expect(screen.getByText(/Not set: valves 3, 7/)).toBeTruthy();
    expect(screen.getByText(/6 degrees inside/)).toBeTruthy();
  });

  it("asks for the method and direction that are chosen", async () => {
    const calls = open({});
    await userEvent.selectOptions(
      await screen.findByLabelText("Method of sequence"),
      "Opposite valve",
    );
    await userEvent.click(screen.getByLabelText("Backwards"));
    await screen.findByText(/^Route card · Opposite valve: with one valve fully open/);
    const last = calls.filter((call) => call.path.includes("/route?")).at(-1)?.path ?? "";
    expect(last).toContain("method=opposite-valve");
    expect(last).toContain("direction=reverse");
    expect(last).toContain("version=2");
  });

  it("has room for readings and for the adjuster, and a code to its sheet, when asked for", async () => {
    open({}, "version=2&sheet=12");
    await screen.findByText(saying("mark “0” lines up"));
    const code = (await screen.findByAltText("QR code to /sheet/12")) as HTMLImageElement;
    expect(code.getAttribute("src")).toBe("/api/qr.svg?path=%2Fsheet%2F12");
    expect(screen.queryByText("reading")).toBeNull();
    await userEvent.click(screen.getByLabelText("Room for readings"));
    await userEvent.click(screen.getByLabelText("Room for the adjuster"));
    expect(screen.getByText("reading")).toBeTruthy();
    // This role is adjusted by shims, so that is what is written down.
    expect(screen.getByText("shim")).toBeTruthy();
    await userEvent.click(screen.getByLabelText("QR code"));
    expect(screen.queryByAltText(/QR code/)).toBeNull();
  });

  it("asks for start and margin once they are numbers", async () => {
    const calls = open({});
    await userEvent.type(await screen.findByLabelText(/Crank stands at/), "12x");
    await userEvent.type(screen.getByLabelText(/Least margin/), "30");
    await userEvent.click(screen.getByLabelText("At marks only"));
    await screen.findByText(/Every valve is set once/);
    const asked = calls.filter((call) => call.path.includes("/route?")).map((call) => call.path);
    expect(asked.at(-1)).toContain("start_deg=12&");
    expect(asked.at(-1)).toContain("min_margin_deg=30&stops=marks");
    expect(asked.some((path) => path.includes("12x"))).toBe(false);
  });

  it("says what to do when the place is overshot", async () => {
    open({});
    await screen.findByText("Overshot? Bump back past it.");
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
});

describe("the methods side by side", () => {
  const compared = (method: string, plan: object, more: object) => ({
    plan: { ...PLAN, method, ...plan },
    recognise: "the mark",
    needs: [{ what: "pair marks on the crank", met: null }],
    worst: null,
    says: "Covers every valve once, on its heel.",
    offered: true,
    ...more,
  });

  it("says which serve, what they cost, and by how much one fails", async () => {
    const failing = {
      says: "Sets 12 of 18 valves. Valve 3 (cylinder 1 brake) fails by 79°: off its heel at 0°.",
      needs: [{ what: "a mirrored head", met: false }],
    };
    serve((call) =>
      call.path.includes("/methods")
        ? {
            body: [
              compared("two-stop", {}, {}),
              compared("opposite-valve", { complete: false, stops: [] }, failing),
            ],
          }
        : { body: CYCLE },
    );
    show(<MethodsPage />, { path: "/methods/4?start=90", route: "/methods/:engineId" });
    await screen.findByText("1 of 2 methods cover every valve of this engine.");
    expect(screen.getByText(/fails by 79°/)).toBeTruthy();
    expect(screen.getByText("fewest")).toBeTruthy();
    expect(screen.getAllByText("look")).toHaveLength(1);
    const card = screen.getByRole("link", { name: "Route card by Two stops" });
    expect(card.getAttribute("href")).toBe("/route/4?start=90&method=two-stop");
  });

  it("counts no method whose sign cannot be seen here", async () => {
    const hidden = { says: "Not offered here. The cam is out of sight.", offered: false };
    serve((call) =>
      call.path.includes("/methods")
        ? { body: [compared("two-stop", {}, {}), compared("opposite-valve", {}, hidden)] }
        : { body: CYCLE },
    );
    show(<MethodsPage />, { path: "/methods/4", route: "/methods/:engineId" });
    await screen.findByText("1 of 2 methods cover every valve of this engine.");
    expect(screen.getByText("no")).toBeTruthy();
    expect(screen.getAllByText("yes")).toHaveLength(1);
  });
});
