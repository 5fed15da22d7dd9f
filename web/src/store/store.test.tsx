/** The shim store: what is short, booking, counting, and a plan over several engines. */
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { INES, problem, serve, show } from "../testing/render";
import { STAND } from "../workshop/workshop.test-data";
import StorePage from "./StorePage";
import { moved, size } from "./words";

const TOVE = { ...INES, id: 1, display_name: "Tove", may_teach: true };
const BOX: Schemas["StockOut"] = {
  id: 3,
  diameter_mm: "29.00",
  size_mm: "2.450",
  place: "drawer 1",
  count: 1,
  held: 0,
  free: 1,
  least: 3,
  short: 2,
};
const HELD: Schemas["HeldOut"] = {
  id: 8,
  size_mm: "2.450",
  stand: "Stand 2",
  valve: 7,
  returns_mm: "2.600",
  made_by: "Tove",
};
const MOVE: Schemas["StandMoveOut"] = {
  stand_id: 4,
  stand: "Stand 2",
  valve: 1,
  fitted_mm: "2.5000",
  size_mm: "2.450",
  source: "store",
  clearance_mm: "0.12",
  within: true,
  from_stand: "",
  from_valve: null,
  returns_mm: "2.5000",
};

function open(answer: (path: string) => { status?: number; body?: unknown }, held = [HELD]) {
  const calls = serve((call) => {
    if (call.method !== "GET") return answer(call.path);
    if (call.path === "/api/store") return { body: { sizes: [BOX], held, moves: [] } };
    if (call.path === "/api/stands") return { body: [STAND] };
    return { body: { engine: { valves: [{ number: 1, role: "exhaust" }] } } };
  });
  show(<StorePage />, { person: TOVE });
  return calls;
}

describe("the store", () => {
  it("says what is short, and where to get it as a list", async () => {
    open(() => ({}));
    const short = within(await screen.findByRole("region", { name: "Short" }));
    expect(short.getByRole("listitem").textContent).toBe("2 of 2.45 mm, 29 across");
    expect(short.getByRole("link", { name: "Order list, CSV" }).getAttribute("href")).toBe(
      "/api/store/order.csv",
    );
  });

  it("takes shims out, and says that the last one is gone", async () => {
    const gone = problem(409, "Of 2.45 mm none is free; 1 can't be taken out.");
    const calls = open(() => ({ status: 409, body: gone }));
    await userEvent.click(await screen.findByRole("button", { name: "Take out of 2.45 mm" }));
    await userEvent.click(await screen.findByRole("button", { name: "Take out" }));
    expect(await screen.findByText(/none is free/)).toBeTruthy();
    const sent = calls.find((call) => call.method === "POST");
    expect(sent).toMatchObject({ path: "/api/store/sizes/3/moves", body: { change: -1 } });
  });

  it("sends what was counted with what the page showed", async () => {
    const calls = open(() => ({ body: { changed: 1 } }));
    await userEvent.click(await screen.findByRole("button", { name: "Count the boxes" }));
    await userEvent.type(await screen.findByLabelText("Counted of 2.45 mm"), "4");
    await userEvent.click(screen.getByRole("button", { name: "Keep 1 counted" }));
    await waitFor(() => expect(calls.some((call) => call.method === "POST")).toBe(true));
    expect(calls.find((call) => call.method === "POST")?.body).toEqual({
      sizes: [{ id: 3, count: 4, seen: 1 }],
    });
  });

  it("a shim that was fitted sends home what is left over", async () => {
    const calls = open(() => ({ status: 201, body: {} }));
    await userEvent.click(await screen.findByRole("tab", { name: "Held back (1)" }));
    const out = await screen.findByLabelText("Left over from Stand 2, valve 7, mm");
    await userEvent.clear(out);
    await userEvent.type(out, "2,583");
    await userEvent.click(screen.getByRole("button", { name: "Fitted" }));
    await waitFor(() => expect(calls.some((call) => call.method === "POST")).toBe(true));
    expect(calls.find((call) => call.method === "POST")?.body).toEqual({ took_out: "2,583" });
  });

  it("plans over the stands that are chosen, and holds back", async () => {
    const plan = { moves: [MOVE], buy_mm: ["2.60"], warnings: [] };
    const calls = open(() => ({ body: plan }), []);
    await userEvent.click(await screen.findByRole("tab", { name: "Plan for engines" }));
    await userEvent.click(await screen.findByRole("combobox", { name: "Stands" }));
    await userEvent.click(await screen.findByTitle("Stand 2, Snow tug"));
    await userEvent.type(await screen.findByLabelText("Shim in valve 1 of Stand 2"), "2.5");
    await userEvent.type(screen.getByLabelText("Gap of valve 1 of Stand 2"), "0,07");
    await userEvent.click(screen.getByRole("button", { name: "Plan 1 valves" }));
    expect(await screen.findByText("from the store")).toBeTruthy();
    expect(screen.getByText("To buy: 2.60 mm.")).toBeTruthy();
    await userEvent.click(
      screen.getByRole("button", { name: "Hold 1 back in the store, put 1 on the order list" }),
    );
    await waitFor(() => expect(calls.some((call) => call.path === "/api/store/hold")).toBe(true));
    expect(calls.find((call) => call.path === "/api/store/hold")?.body).toEqual({
      diameter: "29",
      valves: [{ stand_id: 4, valve: 1, fitted: "2.5", measured: "0,07", unit: "mm" }],
    });
  });
});

describe("its words", () => {
  it("three decimals where the third says something", () => {
    expect([size("2.450"), size("2.583"), size("2.5")]).toEqual(["2.45", "2.583", "2.50"]);
  });

  it("a move says what, where and why", () => {
    const move = { id: 1, diameter_mm: "29", change: -1, count_after: 0, made_by: "Tove" };
    expect(
      moved({
        ...move,
        size_mm: "2.450",
        why: "fitted",
        stand: "Stand 4",
        valve: 7,
        note: "",
        made_at: "2026-11-27T10:00:00Z",
      }),
    ).toBe("1 of 2.45 mm fitted, Stand 4 valve 7");
  });
});
