/** Keys of several passes, and the key that follows the stand as it is adjusted. */
import { fireEvent, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { KeyForm } from "../classes/KeyForm";
import { INES, problem, serve, show, showOnDesk } from "../testing/render";
import { NextKey } from "./NextKey";

const TOVE = { ...INES, id: 1, display_name: "Tove", may_teach: true };
const valve = { cylinder: 1, low_mm: 0.22, high_mm: 0.28, closing: false };
const STAND: Schemas["StandOut"] = {
  id: 4,
  name: "Stand 4",
  engine_id: 1,
  engine_version: 1,
  engine_name: "Pump",
  place: "",
  away: false,
  shared: false,
  stale: false,
  adjusted_at: null,
  adjusted_by: "",
  asks: [],
  valves: [
    { ...valve, number: 1, role: "exhaust" },
    { ...valve, number: 2, role: "intake" },
  ],
  key: null,
};
const POOLED: Schemas["PooledOut"] = {
  spread_mm: 0.0071,
  gaps: [
    { valve: 1, gap_mm: "0.3500", uncertainty_mm: "0.0141", range_mm: "0.0000", apart: false },
    { valve: 2, gap_mm: "0.2700", uncertainty_mm: "0.0141", range_mm: "0.0600", apart: true },
  ],
};

describe("a key of several passes", () => {
  it("shows the mean, how well it is known, and what to measure again", async () => {
    const calls = serve((call) =>
      call.path.endsWith("/preview") ? { body: POOLED } : { status: 201, body: { number: 2 } },
    );
    show(<KeyForm stand={STAND} classId={2} onClose={() => undefined} />, { person: TOVE });
    await userEvent.click(screen.getByRole("button", { name: "Add a pass" }));
    await userEvent.type(screen.getByLabelText("Who measured pass 2"), "Rolf");
    for (const [name, gap] of [
      ["Gap of valve 1, pass 1", "0.35"],
      ["Gap of valve 2, pass 1", "0.24"],
      ["Gap of valve 1, pass 2", "0.35"],
    ] as const)
      fireEvent.change(screen.getByLabelText(name), { target: { value: gap } });
    // Nothing is asked before every valve has every pass.
    expect(calls).toHaveLength(0);
    fireEvent.change(screen.getByLabelText("Gap of valve 2, pass 2"), {
      target: { value: "0.30" },
    });
    await screen.findByText("0.350 ±0.014 mm");
    expect(screen.getByText("0.270 ±0.014 mm, 0.06 mm apart: measure again")).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Save key" }));
    await waitFor(() => expect(calls.some((call) => call.path.endsWith("/passes"))).toBe(true));
    const sent = calls.find((call) => call.path.endsWith("/passes"))?.body as Schemas["PassesIn"];
    expect(sent.passes.map((pass) => pass.by)).toEqual(["", "Rolf"]);
    expect(sent.passes[1]?.gaps[1]).toEqual({ valve: 2, gap: "0.30", unit: "mm", closing: "" });
  });

  it("asks before passes that lie apart become a key", async () => {
    const fields = [{ path: "valve 1", problem: "its passes lie 0.50 mm apart" }];
    const calls = serve((call) => {
      if (call.path.endsWith("/preview")) return { body: POOLED };
      return (call.body as { confirmed: boolean }).confirmed
        ? { status: 201, body: { number: 2 } }
        : { status: 409, body: problem(409, "A slip?", { fields, confirm: true }) };
    });
    let closed = 0;
    showOnDesk(<KeyForm stand={STAND} classId={2} onClose={() => closed++} />, { person: TOVE });
    await userEvent.click(screen.getByRole("button", { name: "Add a pass" }));
    await userEvent.click(screen.getByRole("button", { name: "Save key" }));
    await screen.findByText(/valve 1: its passes lie 0.50 mm apart/);
    expect(closed).toBe(0);
    await userEvent.click(screen.getByRole("button", { name: "Save the key all the same" }));
    await waitFor(() => expect(closed).toBe(1));
    expect(calls.at(-1)?.body).toMatchObject({ confirmed: true });
  });

  it("goes back to one pass, and its stated uncertainty", async () => {
    serve(() => undefined);
    show(<KeyForm stand={STAND} classId={2} onClose={() => undefined} />, { person: TOVE });
    await userEvent.click(screen.getByRole("button", { name: "Add a pass" }));
    await userEvent.click(screen.getByRole("button", { name: "Remove last pass" }));
    expect(screen.getByLabelText("Gap of valve 1")).toBeTruthy();
    expect(screen.getByLabelText(/Uncertainty of each gap/)).toBeTruthy();
  });
});

describe("a key that is corrected", () => {
  const gap = { closing_typed: "", closing_mm: null, uncertainty_mm: null, passes: [] };
  const key: Schemas["KeyOut"] = {
    number: 1,
    made_at: "2026-11-27T09:00:00Z",
    made_by: "Tove",
    origin: "measured",
    note: "",
    uncertainty_mm: "0",
    gaps: [
      { ...gap, valve: 1, typed: "0.35", unit: "mm", gap_mm: "0.35", verdict: "within" },
      { ...gap, valve: 2, typed: "10 thou", unit: "thou", gap_mm: "0.254", verdict: "within" },
    ],
  };

  it("begins with its gaps, each in its own unit, and loses nothing if it is left", async () => {
    const calls = serve(() => ({ status: 201, body: { number: 2 } }));
    let closed = 0;
    const form = <KeyForm correct stand={{ ...STAND, key }} classId={2} onClose={() => closed++} />;
    show(form, { person: TOVE });
    const first = screen.getByLabelText("Gap of valve 1") as HTMLInputElement;
    expect(first.value).toBe("0.35 mm");
    expect((screen.getByLabelText("Gap of valve 2") as HTMLInputElement).value).toBe("10 thou");
    fireEvent.change(first, { target: { value: "0.37" } });
    await userEvent.click(screen.getByRole("button", { name: "Save key" }));
    await waitFor(() => expect(closed).toBe(1));
    const sent = calls[0]?.body as Schemas["KeyIn"];
    expect(sent.gaps.map((one) => one.gap)).toEqual(["0.37", "10 thou"]);
    expect(sent.confirmed).toBe(false);
  });
});

describe("the next key", () => {
  const gap = { valve: 3, now_mm: "0.1900", becomes_mm: "0.2500", moved: true, why: "reads 0.25" };
  const SEEN: Schemas["NextKeyOut"] = {
    hand_in_id: 9,
    based_on: 1,
    gaps: [gap, { ...gap, valve: 4, moved: false, why: "" }],
  };

  it("is shown valve by valve, and made when it is confirmed", async () => {
    const calls = serve((call) =>
      call.method === "GET" ? { body: SEEN } : { status: 201, body: { number: 2 } },
    );
    show(<NextKey handInId={9} student="Marit" />, { person: TOVE });
    await screen.findByText(/Marit adjusted one valve/);
    await userEvent.click(screen.getByRole("button", { name: "Make it the next key" }));
    expect(screen.getByText(/0\.190 →/).textContent).toBe("0.190 → 0.250 mm (9.8 thou)");
    await userEvent.click(screen.getByRole("button", { name: "Make it the key" }));
    await screen.findByText(/Key 2 is made/);
    const sent = calls.find((call) => call.method === "POST")?.body;
    expect(sent).toEqual({ based_on: 1, this_sheet: true });
  });

  it("is silent where nothing was adjusted", async () => {
    const calls = serve(() => ({ body: { ...SEEN, gaps: [{ ...gap, moved: false }] } }));
    show(<NextKey handInId={9} student="Marit" />, { person: TOVE });
    await waitFor(() => expect(calls).toHaveLength(1));
    expect(screen.queryByRole("button")).toBeNull();
  });

  it("says when the stand has another key by now", async () => {
    serve((call) =>
      call.method === "GET"
        ? { body: SEEN }
        : { status: 409, body: problem(409, "Stand 3 has key 2 by now.") },
    );
    show(<NextKey handInId={9} student="Marit" />, { person: TOVE });
    await userEvent.click(await screen.findByRole("button", { name: "Make it the next key" }));
    await userEvent.click(screen.getByRole("button", { name: "Make it the key" }));
    await screen.findByText("Stand 3 has key 2 by now.");
  });
});
