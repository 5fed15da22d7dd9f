/** Ask the class: alone with answers given once, before a class with answers revealed. */

import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { PUSH_RODS } from "../testing/fixtures";
import { type Call, INES, saying, serve, show } from "../testing/render";
import DrillPage from "./DrillPage";

const TABLE = {
  engine: {
    name: "Pump",
    layout: "single",
    rotation: "clockwise",
    ...PUSH_RODS,
    firing_order: [1],
    banks: [[1]],
    cylinders: [{ cylinder: 1, fire_deg: 0, companion: null }],
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

function question(number: number): Schemas["AskedOut"] {
  return {
    number,
    kind: "which-valves",
    crank_deg: 0,
    sheet: [],
    shown_deg: null,
    asks: `Question ${number}: which may be set?`,
    options: [
      { id: "1", says: "valve 1, cylinder 1 intake", valve: 1 },
      { id: "2", says: "valve 2, cylinder 1 exhaust", valve: 2 },
    ],
    several: true,
    answered: false,
    given: [],
    right: null,
    answer: null,
    because: null,
    place: "Cylinder 1 is at firing TDC.",
    steps: null,
    wrong: null,
  };
}

const told = { answered: true, answer: ["1"], because: "Valve 1 is on its heel by 40°." };

function drill(held: string, first: Partial<Schemas["AskedOut"]> = {}): Schemas["DrillOut"] {
  return {
    id: 9,
    title: "",
    away: false,
    engine_id: 4,
    engine_version: 1,
    engine_name: "Pump",
    held,
    class_id: null,
    made_at: "2026-11-25T08:00:00Z",
    questions: [{ ...question(1), ...first }, question(2)],
  };
}

function open(held: string, after: Partial<Schemas["AskedOut"]>, person = INES): Call[] {
  const calls = serve((call) => {
    if (call.path.includes("/cycle")) return { body: TABLE };
    if (call.path === "/api/drills" && call.method === "POST") return { body: drill(held) };
    if (call.path === "/api/drills" || call.path === "/api/classes") return { body: [] };
    if (call.method !== "GET") return { body: drill(held, after) };
    return { body: drill(held) };
  });
  show(<DrillPage />, { path: "/drill/4", route: "/drill/:engineId", person });
  return calls;
}

/** The button waits until it is known for which class it is. */
async function begin(name: string) {
  const button = await screen.findByRole("button", { name });
  await waitFor(() => expect((button as HTMLButtonElement).disabled).toBe(false));
  await userEvent.click(button);
}

describe("a drill alone", () => {
  it("takes a choice by keys, tells the answer and why, and goes on by a key", async () => {
    const calls = open("alone", { ...told, given: ["1"], right: true });
    await begin("Ten questions for me");
    await screen.findByText("Question 1: which may be set?");
    await userEvent.keyboard("1");
    screen.getByRole("button", { name: /valve 1, cylinder 1/, pressed: true });
    (document.activeElement as HTMLElement | null)?.blur();
    await userEvent.keyboard("{Enter}");
    await screen.findByText(saying("on its heel by 40°"));
    expect(calls.at(-1)?.path === "/api/drills" || calls.length > 2).toBe(true);
    const sent = calls.find((call) => call.path === "/api/drills/9/answers/1");
    expect(sent?.body).toEqual({ given: ["1"] });
    expect(screen.getByText("1 right of 2")).toBeTruthy();
    await userEvent.keyboard("{Enter}");
    await screen.findByText("Question 2: which may be set?");
  });

  it("takes several, and takes one back", async () => {
    open("alone", told);
    await begin("Ten questions for me");
    const options = await screen.findAllByRole("button", { name: /^[12] valve/ });
    for (const option of options) await userEvent.click(option);
    await userEvent.click(options[0] as HTMLElement);
    expect(options.map((option) => option.getAttribute("aria-pressed"))).toEqual(["false", "true"]);
  });

  it("is all that a student is offered", async () => {
    open("alone", told);
    await screen.findByText("Ten questions for me");
    expect(screen.queryByText("Ten questions before the class")).toBeNull();
  });
});

describe("a drill before the class", () => {
  it("hides the answer until it is shown, then keeps whether they had it", async () => {
    const calls = open("class", told, { ...INES, may_teach: true });
    await begin("Ten questions before the class");
    await screen.findByText("Question 1: which may be set?");
    expect(screen.queryByText(saying("on its heel"))).toBeNull();
    await userEvent.click(screen.getByRole("button", { name: /Show the answer/ }));
    await screen.findByText(saying("on its heel by 40°"));
    await userEvent.keyboard("y");
    await waitFor(() =>
      expect(calls.find((call) => call.path === "/api/drills/9/score/1")?.body).toEqual({
        right: true,
      }),
    );
    expect(document.documentElement.dataset.room).toBe("shop");
    await userEvent.keyboard("b");
    expect(document.documentElement.dataset.room).toBe("");
  });
});

describe("one's own drills", () => {
  const score = (id: number, more: Partial<Schemas["ScoreOut"]> = {}): Schemas["ScoreOut"] => ({
    id,
    title: "",
    person: "Ines Falkner",
    engine_id: 4,
    engine_name: "Pump",
    held: "alone",
    made_at: "2026-11-25T08:00:00Z",
    right: 0,
    answered: 0,
    questions: 10,
    away: false,
    ...more,
  });

  function list(drills: Schemas["ScoreOut"][]): Call[] {
    const calls = serve((call) => {
      if (call.path.includes("/cycle")) return { body: TABLE };
      if (call.path === "/api/drills") return { body: drills };
      if (call.path === "/api/classes") return { body: [] };
      return call.method === "DELETE" ? { status: 204 } : { body: drill("alone") };
    });
    show(<DrillPage />, { path: "/drill/4", route: "/drill/:engineId", person: INES });
    return calls;
  }

  it("are named by keys", async () => {
    const calls = list([score(5)]);
    await userEvent.click(await screen.findByRole("button", { name: "Rename Pump" }));
    await userEvent.keyboard("Before the test{Enter}");
    await waitFor(() =>
      expect(calls.find((call) => call.method === "PATCH")).toMatchObject({
        path: "/api/drills/5",
        body: { name: "Before the test" },
      }),
    );
  });

  it("are put away, and shown on demand to be brought back", async () => {
    const calls = list([score(5, { title: "Old one", away: true, answered: 2 }), score(6)]);
    expect(await screen.findByRole("link", { name: "Pump" })).toBeTruthy();
    expect(screen.queryByText("Old one")).toBeNull();
    await userEvent.click(screen.getByRole("button", { name: /All 2/ }));
    await userEvent.click(screen.getByRole("button", { name: "Bring back Old one" }));
    expect(calls.find((call) => call.method === "PATCH")?.body).toEqual({ away: false });
    expect(screen.queryByRole("button", { name: /Delete Old one/ })).toBeNull();
    await userEvent.click(screen.getByRole("button", { name: /Delete Pump/ }));
    expect(calls.some((call) => call.method === "DELETE" && call.path.endsWith("/6"))).toBe(true);
  });
});
