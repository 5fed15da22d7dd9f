/** A hand-in that was pressed without a network: what becomes of it when the network is back. */
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it } from "vitest";
import { type Handler, problem, serve, show } from "../testing/render";
import { blank, SHEET } from "../testing/sheet";
import { keepPressed, keptHere, placeOf } from "./kept";
import WaitingHandIns from "./WaitingHandIns";

const PLACE = placeOf(7, 5);
const LINE = { ...blank, valve: 1, reading: "0.25" };
const isHandIn = (path: string) => path.endsWith("/hand-in");

/** A server that merges drafts and, but for what `handler` says, takes what is handed in. */
function open(handler: Handler) {
  const calls = serve((call) => {
    const own = handler(call);
    if (own !== undefined) return own;
    if (call.path.endsWith("/draft")) return { body: { lines: [LINE], clashes: [] } };
    if (isHandIn(call.path)) return { status: 201, body: {} };
    return call.path === "/api/sheets/5" ? { body: SHEET } : undefined;
  });
  show(<WaitingHandIns />);
  return calls;
}

beforeEach(() => {
  localStorage.setItem(
    PLACE,
    JSON.stringify({
      requestKey: "pressed-once",
      waiting: { 1: { line: LINE, base: { ...blank, valve: 1 } } },
    }),
  );
  keepPressed(PLACE, "pressed-once", { title: "Set it right", confirmed: true });
});

describe("a hand-in that waits", () => {
  it("sends what was written, then all of it, under the key of the press", async () => {
    const calls = open(() => undefined);
    await screen.findByText(/handed in now/);
    const sent = calls.filter(({ method }) => method !== "GET");
    expect(sent.map(({ path }) => path)).toEqual(["/api/sheets/5/draft", "/api/sheets/5/hand-in"]);
    expect(sent[1]?.body).toEqual({
      lines: [LINE],
      request_key: "pressed-once",
      confirmed: true,
    });
    expect(localStorage.getItem(PLACE)).toBeNull();
    expect(screen.getByRole("link", { name: "See your marks" })).toBeTruthy();
  });

  it("waits on while nobody answers, and goes when the network is back", async () => {
    let isAway = true;
    const calls = open(() => (isAway ? "down" : undefined));
    await waitFor(() => expect(calls.length).toBeGreaterThan(0));
    expect(keptHere(PLACE).pressed).toBeTruthy();
    isAway = false;
    window.dispatchEvent(new Event("online"));
    await screen.findByText(/handed in now/);
    expect(calls.filter(({ path }) => isHandIn(path))).toHaveLength(1);
  });

  it("is found in where its answer was lost: the key tells", async () => {
    const isIn = { status: 409, body: problem(409, "This sheet is handed in.") };
    open(({ path }) => (path.endsWith("/draft") ? isIn : undefined));
    await screen.findByText(/handed in now/);
  });

  it("says that another device handed it in, and keeps nothing of it", async () => {
    const says = "You handed this sheet in on 2 March, and a sheet is handed in once.";
    open(({ path }) => {
      if (isHandIn(path)) return { status: 409, body: problem(409, says) };
      return path === "/api/sheets/5" ? { body: { ...SHEET, result: {} } } : undefined;
    });
    await screen.findByText(new RegExp(says));
    await waitFor(() => expect(localStorage.getItem(PLACE)).toBeNull());
  });

  it("does not go where another device wrote something else meanwhile", async () => {
    const clash = { valve: 1, field: "reading", mine: "0.25 mm", theirs: "0.30 mm" };
    const calls = open(({ path }) =>
      path.endsWith("/draft") ? { body: { lines: [LINE], clashes: [clash] } } : undefined,
    );
    await screen.findByText(/another device wrote something else/);
    expect(calls.some(({ path }) => isHandIn(path))).toBe(false);
    // What was written is still here, and waits for the choice.
    expect(keptHere(PLACE).waiting[1]?.line.reading).toBe("0.25");
    expect(keptHere(PLACE).pressed).toBeUndefined();
  });

  it("does not go past a question, and is read away", async () => {
    const asked = problem(409, "Look once more.", { confirm: true });
    open(({ path }) => (isHandIn(path) ? { status: 409, body: asked } : undefined));
    await screen.findByText(/something is asked first/);
    await userEvent.click(screen.getByRole("button", { name: "Noted" }));
    expect(screen.queryByText(/something is asked first/)).toBeNull();
  });
});
