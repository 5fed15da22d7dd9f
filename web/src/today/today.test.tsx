/** Today: one's own, with a hand that goes up; and the hall as its instructor sees it. */
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { INES, problem, serve, show } from "../testing/render";
import ClassToday from "./ClassToday";
import OwnToday from "./OwnToday";

const AT = "2026-11-27T09:00:00Z";
const DAY: Schemas["OwnDayOut"] = {
  now: [
    {
      class_name: "Pump crew",
      starts_at: AT,
      ends_at: "2026-11-27T10:45:00Z",
      place: "Stand 3",
      task: "Cold clearances",
      kind: "sheet",
      of: 1,
      others: ["Bo Hallgrim"],
    },
  ],
  next: [],
  classes: [{ id: 2, name: "Pump crew", hand_at: null }],
  sheets: [{ id: 1, title: "First measuring", stand: "Stand 3", engine: "Pump", closes_at: null }],
  runs: [{ id: 8, title: "On your own", until: null }],
  practice: [{ id: 3, title: "Trade test", engine: "Pump", level: "test", minutes: 40 }],
  back: [{ engine_id: 4, version: 2, engine_name: "Pump", questions: 1 }],
};

function own(
  day: Schemas["OwnDayOut"],
  hand: () => object = () => ({ status: 204 }),
  opens: Schemas["OpensOut"][] = [],
) {
  const calls = serve((call) =>
    call.path.startsWith("/api/my/now")
      ? { body: { cursor: "1", questions: [], opens, day } }
      : hand(),
  );
  show(<OwnToday />, { path: "/today", route: "/today" });
  return calls;
}

describe("one's own day", () => {
  it("says where, with whom, and what is to be done", async () => {
    own(DAY);
    await screen.findByText("Stand 3", { selector: ".now-place" });
    expect(screen.getByText("with Bo Hallgrim")).toBeTruthy();
    expect(screen.getByRole("link", { name: /First measuring/ }).getAttribute("href")).toBe(
      "/sheet/1",
    );
    expect(screen.getByRole("link", { name: /On your own/ }).getAttribute("href")).toBe(
      "/practice/8",
    );
    const test = screen.getByRole("link", { name: /Trade test/ });
    expect(test.getAttribute("href")).toBe("/work?practice=3");
    expect(test.textContent).toContain("Test on Pump, 40 minutes");
    const back = screen.getByRole("link", { name: /1 question that you missed/ });
    expect(back.getAttribute("href")).toBe("/drill/4?version=2");
  });

  it("puts a hand up and down again", async () => {
    const calls = own(DAY);
    await userEvent.click(await screen.findByRole("button", { name: "Put my hand up" }));
    await screen.findByText(/Your instructor sees it/);
    await userEvent.click(screen.getByRole("button", { name: "Take my hand down" }));
    await screen.findByRole("button", { name: "Put my hand up" });
    const sent = calls.filter((call) => call.method === "PUT").map((call) => call.body);
    expect(sent).toEqual([{ up: true }, { up: false }]);
  });

  it("says where the hand could not go up", async () => {
    own(DAY, () => ({ status: 403, body: problem(403, "You have left Pump crew.") }));
    await userEvent.click(await screen.findByRole("button", { name: "Put my hand up" }));
    await screen.findByText("You have left Pump crew.");
  });

  it("begins with where the lesson is that is held", async () => {
    const step = { kind: "sheet", of_id: 6, title: "Measured", named: "First" };
    own(DAY, undefined, [{ ...step, key: "1.1", class_name: "Pump crew" }]);
    const [first] = await screen.findAllByRole("link");
    expect(first?.textContent).toContain("Measured");
    expect(first?.getAttribute("href")).toBe("/sheet/6");
  });

  it("is not empty of words where there is nothing to do", async () => {
    own({ now: [], next: [], classes: [], sheets: [], runs: [], practice: [], back: [] });
    await screen.findByText(/Nothing is set for you now/);
  });
});

const DOING: Schemas["DoingOut"] = {
  what: "sheet",
  title: "First measuring",
  done: 5,
  of: 8,
  state: "writing",
  at: AT,
  until: null,
};
const person = (id: number, name: string, more: Partial<Schemas["PersonNowOut"]> = {}) => ({
  ...{ id, name, hand_at: null, place: "", task: "", doing: [] },
  ...more,
});
const NOW: Schemas["ClassNowOut"] = {
  cursor: "1",
  name: "Pump crew",
  now: {
    starts_at: AT,
    ends_at: "2026-11-27T10:45:00Z",
    places: [{ place: "Stand 3", task: "Cold clearances", students: [7] }],
  },
  next: null,
  people: [
    person(7, "Ines Falkner", { place: "Stand 3", task: "Cold clearances", doing: [DOING] }),
    person(8, "Bo Hallgrim", { hand_at: "2026-11-27T09:04:00Z" }),
    person(9, "Suvi Arnholt", { hand_at: "2026-11-27T09:01:00Z" }),
  ],
  stands: [
    {
      id: 3,
      name: "Stand 3",
      state: "out-of-order",
      why: "bent rod",
      warm_until: null,
      students: [],
    },
  ],
  findings: [{ kind: "off-heel", label: "Off its heel", students: 2 }],
  is_asked: false,
};

function hall() {
  const calls = serve((call) => (call.method === "GET" ? { body: NOW } : { status: 204 }));
  show(<ClassToday />, {
    path: "/classes/2/today",
    route: "/classes/:classId/today",
    person: { ...INES, may_teach: true },
  });
  return calls;
}

describe("the hall", () => {
  it("groups who is where, and says how far they are", async () => {
    hall();
    await screen.findByRole("heading", { name: "Stand 3: Cold clearances" });
    expect(screen.getByText("5 of 8")).toBeTruthy();
    expect(screen.getByRole("heading", { name: "Not booked now" })).toBeTruthy();
    expect(screen.getByText("out of order: bent rod")).toBeTruthy();
    expect(screen.getByText("Off its heel").parentElement?.textContent).toContain("2");
  });

  it("puts the hand that has waited longest first, and takes it down", async () => {
    const calls = hall();
    const hands = await screen.findByRole("region", { name: "Hands up" });
    const names = [...hands.querySelectorAll("b")].map((one) => one.textContent);
    expect(names).toEqual(["Suvi Arnholt", "Bo Hallgrim"]);
    const down = screen.getByRole("button", { name: "Take down the hand of Suvi Arnholt" });
    await userEvent.click(down);
    await waitFor(() =>
      expect(calls.some((call) => call.path === "/api/classes/2/hands/9")).toBe(true),
    );
  });
});
