/** Shims: what is typed is sent, the sum is shown, and the table reads as makers print it. */
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { INES, problem, serve, show } from "../testing/render";
import { order } from "./ShimResult";
import ShimsPage from "./ShimsPage";

const TABLE = {
  engine: {
    name: "Winch",
    measured: "cold",
    firing_order: [1],
    valves: [
      { number: 1, cylinder: 1, role: "intake" },
      { number: 2, cylinder: 1, role: "exhaust" },
    ],
    specs: [],
    marks: [],
  },
  roles: {},
  segments: [],
};
const TABLES = [
  {
    role: "intake",
    low_mm: 0.22,
    high_mm: 0.28,
    gap: "opening",
    unit: "mm",
    bands: [
      { from_mm: 0.0751, to_mm: 0.1, says: "0.08–0.10" },
      { from_mm: 0.22, to_mm: 0.28, says: "0.22–0.28" },
      { from_mm: 0.45, to_mm: 0.48, says: "0.45–0.48" },
    ],
    fitted_mm: [2.4, 2.425],
    new_mm: [
      [2.25, 2.275],
      [2.4, 2.425],
      [null, null],
    ],
  },
];
const PLAN = {
  valves: [
    {
      valve: 1,
      sum: "2.400 fitted + 0.100 measured − 0.250 wanted = 2.250 mm",
      wanted_mm: 2.25,
      choose_mm: 2.25,
      clearance_mm: 0.25,
      choices: [],
      verdict: "thinner",
      warnings: [],
      closing: null,
      opening_gap_mm: null,
      says: [],
    },
  ],
  closing_swap: null,
  left_out: [{ valve: 2, why: "the fitted shim is blank" }],
  swap: {
    moves: [{ valve: 1, size_mm: 2.25, source: "buy", clearance_mm: 0.25, within: true }],
    buy_mm: [2.25],
    left_over_mm: [2.4],
    warnings: [],
  },
};

function page(answer: { status?: number; body: unknown }) {
  const calls = serve((call) => {
    if (call.path.includes("/cycle")) return { body: TABLE };
    if (call.path.includes("/shim-tables")) return { body: TABLES };
    return call.method === "POST" ? answer : undefined;
  });
  show(<ShimsPage />, { path: "/shims/9", route: "/shims/:engineId", person: INES });
  return calls;
}

describe("shims", () => {
  it("works out what was measured, with the sum and the order", async () => {
    const user = userEvent.setup();
    const calls = page({ body: PLAN });
    await user.type(await screen.findByLabelText("fitted at valve 1"), "2,40");
    await user.type(screen.getByLabelText("measured at valve 1"), "0,10");
    await user.type(screen.getByLabelText("In stock"), "2.30 2,35; 2.35");
    await user.click(screen.getByText("rather loose"));
    await user.click(screen.getByRole("button", { name: "Work it out" }));
    expect(await screen.findByText(PLAN.valves[0]?.sum ?? "")).toBeTruthy();
    expect(screen.getByText("thinner: 2.25")).toBeTruthy();
    expect(screen.getByText("1 × 2.25 mm")).toBeTruthy();
    expect(screen.getByText(/Valve 2 is left out: the fitted shim is blank/)).toBeTruthy();
    expect(screen.queryByLabelText("fitted at valve 2")).toBeNull();
    expect(calls.find((call) => call.method === "POST")?.body).toEqual({
      valves: [
        {
          valve: 1,
          fitted: "2,40",
          measured: "0,10",
          closing_fitted: "",
          closing_measured: "",
        },
      ],
      stock: ["2.30", "2,35", "2.35"],
      unit: "mm",
      prefer: "loose",
    });
  });

  it("keeps what was typed when it cannot be used", async () => {
    const user = userEvent.setup();
    page({ status: 422, body: problem(422, "The shims were not worked out: valve 1 …") });
    await user.type(await screen.findByLabelText("fitted at valve 1"), "thick");
    await user.click(screen.getByRole("button", { name: "Work it out" }));
    expect(await screen.findByText(/were not worked out/)).toBeTruthy();
    await waitFor(() =>
      expect(screen.getByLabelText<HTMLInputElement>("fitted at valve 1").value).toBe("thick"),
    );
  });

  it("prints the table: a shim, a dot to leave it, a dash out of reach", async () => {
    page({ body: PLAN });
    const rows = within(await screen.findByRole("table")).getAllByRole("row");
    expect(rows.map((row) => row.textContent)).toEqual([
      "gap, mm2.402.425",
      "0.08–0.102.252.275",
      "0.22–0.28··",
      "0.45–0.48––",
    ]);
  });

  it("counts an order by size", () => {
    expect(order([2.4, 2.425, 2.4])).toBe("2 × 2.40 mm, 1 × 2.425 mm");
  });
});
