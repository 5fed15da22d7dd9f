/** Practice engines as an instructor sets them, and the debriefs of tests. */
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it } from "vitest";
import { TABLE } from "../testing/practice";
import { type Call, INES, serve, showOnDesk } from "../testing/render";
import { PracticeTab } from "./PracticeTab";

const TOVE = { ...INES, id: 1, display_name: "Tove", may_teach: true };
const TEST = {
  id: 8,
  title: "Trade test",
  engine_id: 4,
  engine_version: 1,
  engine_name: "Pump",
  level: "test",
  box: "metric",
  minutes: 20,
  run_count: 3,
  fault_count: 1,
  own_runs: [],
  away: false,
  attempts: 1,
  debriefs_open: false,
};

function tab(practice: object[]) {
  const calls = serve((call) => {
    if (call.path === "/api/engines") return { body: [{ id: 4, name: "Pump", away: false }] };
    if (call.path.startsWith("/api/engines/4/cycle")) return { body: TABLE };
    if (call.method === "GET" && call.path.endsWith("/practice")) return { body: practice };
    return { body: call.method === "POST" ? TEST : {} };
  });
  showOnDesk(<PracticeTab classId={2} />, { person: TOVE });
  return calls;
}

const written = (calls: Call[]) =>
  calls.filter((call) => call.method !== "GET").map((call) => call.body);

it("opens the debriefs of a test when that is meant, and holds them again at once", async () => {
  const calls = tab([TEST, { ...TEST, id: 9, title: "Done test", debriefs_open: true }]);
  await userEvent.click(await screen.findByRole("button", { name: "Held: open them" }));
  await userEvent.click(await screen.findByRole("button", { name: "Hold them" }));
  expect(written(calls)).toEqual([]);
  await userEvent.click(screen.getByRole("button", { name: "Held: open them" }));
  await userEvent.click(await screen.findByRole("button", { name: "Open them" }));
  await waitFor(() => expect(written(calls)).toEqual([{ debriefs: true }]));
  await userEvent.click(screen.getByRole("button", { name: "Open: hold them" }));
  await waitFor(() => expect(written(calls)).toEqual([{ debriefs: true }, { debriefs: false }]));
});

it("sets a test with figures of one's own, to be begun once unless it is said otherwise", async () => {
  const calls = tab([]);
  const set = async (again: boolean) => {
    await userEvent.click(await screen.findByRole("button", { name: "Set a practice engine" }));
    await userEvent.type(await screen.findByLabelText("Title"), "Trade test");
    await userEvent.click(screen.getByRole("combobox", { name: "Engine" }));
    await userEvent.click(await screen.findByTitle("Pump"));
    await userEvent.click(screen.getByRole("combobox", { name: "Coaching" }));
    await userEvent.click(await screen.findByTitle(/^Test:/));
    const more = await screen.findByRole("checkbox", { name: /more than once/ });
    if (again) await userEvent.click(more);
    await userEvent.click(screen.getByRole("button", { name: "Set this practice engine" }));
  };
  await set(false);
  await waitFor(() => expect(written(calls)).toHaveLength(1));
  expect(written(calls)[0]).toMatchObject({ level: "test", attempts: 1, same_for_all: false });
  expect(written(calls)[0]).not.toHaveProperty("again");
  await set(true);
  await waitFor(() => expect(written(calls)).toHaveLength(2));
  expect(written(calls)[1]).toMatchObject({ level: "test", attempts: null });
});
