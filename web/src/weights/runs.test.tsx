/** What runs are worth: seen on a sample and on every run before it counts. */
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { type Call, INES, serve, show } from "../testing/render";
import RunWeightsPage from "./RunWeightsPage";

const TOVE = { ...INES, id: 1, display_name: "Tove", may_teach: true };
const PLAIN: Schemas["RubricFieldsOut"] = {
  items: [{ part: "place", weight: 1, least_percent: 0 }],
  pass_percent: 60,
  zero_at_mm: null,
  minutes: null,
};
const RUNS: Schemas["RunWeightsOut"] = {
  practice_id: 4,
  class_id: 2,
  title: "Test run, the pump",
  number: 0,
  made_by: null,
  made_at: null,
  rubric: PLAIN,
  templates: [
    {
      name: "measuring",
      title: "Measuring counts most",
      says: "For a first run.",
      rubric: {
        ...PLAIN,
        items: [
          { part: "place", weight: 3, least_percent: 0 },
          { part: "measuring", weight: 4, least_percent: 0 },
        ],
      },
    },
  ],
  parts: [
    { part: "place", label: "Finding the place", about: "on the heel" },
    { part: "measuring", label: "Measuring", about: "rests on a leaf" },
  ],
};
const LOOK: Schemas["RunWeightsLookOut"] = {
  sample: {
    percent: 75,
    passed: true,
    pass_percent: 60,
    items: [
      {
        part: "place",
        label: "Finding the place",
        weight: 1,
        share: 0.75,
        percent: 75,
        least_percent: 0,
        says: "6 of 8 valves",
      },
    ],
    fails: [],
    waived: [],
  },
  rows: [
    {
      run_id: 9,
      student: "Marit",
      attempt: 2,
      before_percent: 90,
      after_percent: 55,
      before_passed: true,
      after_passed: false,
    },
  ],
};

function open(): Call[] {
  const calls = serve((call) => {
    if (call.path.endsWith("/preview")) return { body: LOOK };
    if (call.method === "POST") return { status: 201, body: { ...RUNS, number: 1 } };
    if (call.path.endsWith("/rubric")) return { body: RUNS };
    return undefined;
  });
  show(<RunWeightsPage />, {
    path: "/practice/4/weights",
    route: "/practice/:practiceId/weights",
    person: TOVE,
  });
  return calls;
}

beforeEach(() => localStorage.clear());

describe("what runs are worth", () => {
  it("is seen on a sample and on every run that has ended", async () => {
    open();
    const rows = await screen.findByRole("table", { name: /the runs that have ended/ });
    expect(within(rows).getByRole("link", { name: "Marit, run 2" }).getAttribute("href")).toBe(
      "/debrief/9",
    );
    expect(within(rows).getByText("now fails")).toBeTruthy();
    expect(screen.getByText(/A run whose engine is not fit/)).toBeTruthy();
    expect(screen.getByRole("region", { name: "Grade of the sample" })).toBeTruthy();
  });

  it("has no limit of a reading: a run is judged by its debrief", async () => {
    open();
    await screen.findByLabelText("Weight of Measuring");
    expect(screen.queryByLabelText(/A reading scores nothing/)).toBeNull();
    expect(screen.getByLabelText("Pass mark")).toBeTruthy();
  });

  it("is saved over the weights that were seen, and no others", async () => {
    const calls = open();
    await userEvent.click(await screen.findByRole("button", { name: "Measuring counts most" }));
    const save = screen.getByRole<HTMLButtonElement>("button", { name: "Save rubric" });
    await waitFor(() => expect(save.disabled).toBe(false));
    await userEvent.click(save);
    await waitFor(() =>
      expect(
        calls.find((call) => call.path === "/api/practice/4/rubric" && call.method === "POST"),
      ).toBeTruthy(),
    );
    const sent = calls.find(
      (call) => call.path === "/api/practice/4/rubric" && call.method === "POST",
    );
    expect(sent?.body).toMatchObject({
      based_on: 0,
      rubric: {
        items: [
          { part: "place", weight: 3 },
          { part: "measuring", weight: 4 },
        ],
      },
    });
  });
});
