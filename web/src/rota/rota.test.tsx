/** A rota on screen: what is changed and not saved, a plan under way, and one that is offered. */
import { screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, expect, it } from "vitest";
import { INES, problem, serve, show } from "../testing/render";
import RotaPage from "./RotaPage";
import type { Planning, Rota } from "./words";

const TOVE = { ...INES, id: 1, display_name: "Tove", may_teach: true };
const SLOT = { start: "2026-12-07T08:00", end: "2026-12-07T09:45" };
const LATER = { start: "2026-12-07T10:00", end: "2026-12-07T11:45" };
const ROTA: Rota = {
  id: 3,
  class_id: 1,
  class_name: "Pump crew",
  title: "Week 50",
  revision: 4,
  posted_at: null,
  away: false,
  can_undo: false,
  wish: {
    slots: [SLOT, LATER],
    places: [{ key: "a", name: "Stand 3", stand: 7 }],
    tasks: [
      {
        key: "t1",
        title: "Cold clearances",
        kind: "text",
        of: null,
        places: ["a"],
        least: 1,
        most: 1,
        needs_cold: false,
        runs_engine: false,
        after: [],
      },
    ],
    stands_each: 4,
    away: {},
    apart: [],
  },
  students: [
    { id: 11, name: "Ines" },
    { id: 12, name: "Bo" },
  ],
  instructors: [{ id: 1, name: "Tove" }],
  stands: [{ id: 7, name: "Stand 3", engine_name: "Pump", cool_h: 12, out_of_order: "" }],
  bookings: [{ id: 21, slot: SLOT.start, place: "a", task: "t1", students: [11], pinned: false }],
  broken: [],
  missing: [{ student: 12, task: "t1", why: "the group is full", helps: "one more slot" }],
  repeats: 0,
  blocked: [{ slot: LATER.start, place: "a", why: "Class B has it then" }],
  says: "",
  begun: 0,
  planning: null,
};
const FOUND: Planning = {
  job_id: 9,
  state: "done",
  is_over: true,
  says: "",
  few_changes: true,
  missing: 0,
  repeats: 1,
  moved: 1,
  fewest: 1,
  proven: true,
  kept: false,
  offered: true,
  changes: [
    {
      student: 11,
      task: "t1",
      was: { slot: SLOT.start, place: "a" },
      now: { slot: LATER.start, place: "a" },
    },
  ],
  made_at: new Date().toISOString(),
  ended_at: new Date().toISOString(),
  most_s: 40,
};

beforeEach(() => localStorage.clear());

function open(
  rota: Partial<Rota> = {},
  tab = "week",
  others: (call: { path: string }) => unknown = () => null,
) {
  const whole = { ...ROTA, ...rota };
  const calls = serve((call) => {
    if (call.path === "/api/rotas/3") return { body: whole };
    if (call.path === "/api/rotas/3/planning") return { body: whole.planning };
    return (others(call) as { body: unknown } | null) ?? { status: 204, body: undefined };
  });
  show(<RotaPage />, { person: TOVE, path: `/rota/3/${tab}`, route: "/rota/:rotaId/:tab?" });
  return calls;
}

it("shows who is where, what is blocked and why somebody has no place", async () => {
  open();
  const cell = await screen.findByRole("button", {
    name: "Stand 3, Mon 7, 08:00: Cold clearances",
  });
  expect(within(cell).getByText("Ines")).toBeTruthy();
  expect(screen.getByText("Class B has it then")).toBeTruthy();
  expect(screen.getByText("one place is missing")).toBeTruthy();
  expect(screen.getByText(/the group is full/)).toBeTruthy();
  expect(screen.getByText(/Would help: one more slot/)).toBeTruthy();
});

it("offers what was found with its changes, and keeps it when told to", async () => {
  const calls = open({ planning: FOUND });
  expect(await screen.findByRole("heading", { name: "1 place would change" })).toBeTruthy();
  const row = screen.getByRole("row", { name: /Ines Cold/ });
  expect(within(row).getByText("Mon 7, 10:00, Stand 3")).toBeTruthy();
  expect(screen.getByText(/Fewer changes are not possible/)).toBeTruthy();
  await userEvent.click(screen.getByRole("button", { name: "Keep this plan" }));
  expect(calls.find((call) => call.path === "/api/rotas/3/keep")?.body).toEqual({ job_id: 9 });
});

it("tells how far a plan is, and stops it", async () => {
  const now = { ...FOUND, state: "working", is_over: false, offered: false, missing: 1 };
  const calls = open({ planning: now });
  expect(await screen.findByText(/1 of 2 places found/)).toBeTruthy();
  await userEvent.click(screen.getByRole("button", { name: "Stop and keep the best" }));
  expect(calls.some((call) => call.path === "/api/rotas/3/planning/stop")).toBe(true);
});

it("says so where no worker takes it", async () => {
  const since = new Date(Date.now() - 20_000).toISOString();
  const now: Planning = { ...FOUND, state: "waiting", is_over: false, made_at: since };
  open({ planning: { ...now, offered: false } });
  expect(await screen.findByText(/No worker has taken it yet/)).toBeTruthy();
});

it("keeps what is changed until it is saved, and asks before bookings go", async () => {
  const asks = { ...problem(409, "1 booking would go."), confirm: true };
  const question = { ...asks, fields: [{ path: "wish", problem: "1 booking would go." }] };
  const calls = open({}, "away", ({ path }) =>
    path.endsWith("/wish") ? { status: 409, body: question } : null,
  );
  const cell = await screen.findByRole("button", { name: "Bo away Monday 7 December 08:00" });
  await userEvent.click(cell);
  expect(cell.getAttribute("aria-pressed")).toBe("true");
  expect(screen.getByText(/is kept on this device/)).toBeTruthy();
  await userEvent.click(screen.getByRole("button", { name: "Save" }));
  await screen.findByText("Bookings would go");
  await userEvent.click(screen.getByRole("button", { name: "Save, and let them go" }));
  const saves = calls.filter((call) => call.path.endsWith("/wish"));
  expect(saves.map((call) => (call.body as { confirmed: boolean }).confirmed)).toEqual([
    false,
    true,
  ]);
  expect(saves[0]?.body).toMatchObject({ wish: { away: { "student-12": [SLOT.start] } } });
});

it("does not overwrite what a colleague has saved meanwhile without a word", async () => {
  const draft = { revision: 3, wish: { ...ROTA.wish, stands_each: 2 } };
  localStorage.setItem("rota 3", JSON.stringify(draft));
  open({}, "away");
  expect(await screen.findByText(/Somebody has changed this rota/)).toBeTruthy();
  expect(screen.queryByRole("button", { name: "Save" })).toBeNull();
  await userEvent.click(screen.getByRole("button", { name: "Take mine" }));
  expect(await screen.findByRole("button", { name: "Save" })).toBeTruthy();
});
