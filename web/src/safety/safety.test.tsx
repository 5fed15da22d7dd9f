/** The lists before and after turning by hand: ticked whole, kept, told again. */
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { CAUTIONS } from "../testing/fixtures";
import { problem, serve, show } from "../testing/render";
import { OpenForWork } from "./OpenForWork";

const OPENING = {
  id: 3,
  start: "diesel",
  opened: [],
  opened_at: "2026-11-25T08:00:00Z",
  closed: null,
  closed_at: null,
};

function open(current: object | null, part?: "opening" | "closing") {
  let now = current;
  const calls = serve((call) => {
    if (call.path === "/api/openings") {
      now = OPENING;
      return { status: 201, body: OPENING };
    }
    if (call.path === "/api/openings/3/close") {
      now = { ...OPENING, closed: [], closed_at: "2026-11-25T09:30:00Z" };
      return { body: now };
    }
    return { body: { ...CAUTIONS, current: now } };
  });
  show(<OpenForWork engineId={4} version={2} standId={7} part={part ?? "both"} />);
  return calls;
}

describe("before turning by hand", () => {
  it("opens only when everything is ticked, and keeps what was ticked for the stand", async () => {
    const calls = open(null);
    const button = await screen.findByRole("button", { name: "2 to tick" });
    expect((button as HTMLButtonElement).disabled).toBe(true);
    await userEvent.click(screen.getByLabelText("Stop lever at stop."));
    await userEvent.click(screen.getByLabelText("Hands clear."));
    await userEvent.click(screen.getByRole("button", { name: /open for work/ }));
    await screen.findByText(/Isolation list ticked at/);
    expect(calls.find((call) => call.method === "POST")?.body).toEqual({
      engine_id: 4,
      version: 2,
      stand_id: 7,
      start: "diesel",
      ticked: ["stop-lever", "hands"],
    });
  });

  it("explains the words of its lines below them, where a tap ticks nothing", async () => {
    serve(() => ({
      body: {
        ...CAUTIONS,
        starts: [
          {
            start: "hand",
            says: "by hand",
            lines: [{ id: "tool", says: "Turning tool off." }],
            closing: [],
          },
        ],
        current: null,
      },
    }));
    show(<OpenForWork engineId={4} version={2} standId={7} part="both" />);
    await userEvent.click(await screen.findByRole("button", { name: "turning tool" }));
    await screen.findByRole("dialog");
    expect(screen.getByRole("button", { name: "1 to tick", hidden: true })).toBeTruthy();
  });

  it("has another list for another way of starting, with nothing ticked in it", async () => {
    open(null);
    await userEvent.click(await screen.findByLabelText("Stop lever at stop."));
    await userEvent.click(screen.getByLabelText("air start"));
    await screen.findByLabelText("Starting air shut.");
    screen.getByRole("button", { name: "1 to tick" });
  });

  it("defers to rules, manual and supervision", async () => {
    open(null);
    await screen.findByText(/Local rules, the maker's manual/);
  });

  it("says what the server says", async () => {
    serve((call) =>
      call.method === "POST"
        ? { status: 422, body: problem(422, "Not everything is ticked yet.") }
        : { body: CAUTIONS },
    );
    show(<OpenForWork engineId={4} version={2} standId={7} />);
    await userEvent.click(await screen.findByLabelText("Stop lever at stop."));
    await userEvent.click(screen.getByLabelText("Hands clear."));
    await userEvent.click(screen.getByRole("button", { name: /open for work/ }));
    await screen.findByText("Not everything is ticked yet.");
  });
});

describe("when it is done", () => {
  it("is closed up in the same record", async () => {
    const calls = open(OPENING);
    await userEvent.click(await screen.findByLabelText("Tools counted."));
    await userEvent.click(screen.getByRole("button", { name: /closed up/ }));
    await screen.findByText(/Closing list ticked at/);
    expect(calls.find((call) => call.method === "POST")?.body).toEqual({ ticked: ["tools"] });
  });

  it("stands at the foot of a long page only once the engine is open", async () => {
    const calls = open(null, "closing");
    await waitFor(() => expect(calls.length).toBeGreaterThan(0));
    expect(screen.queryByText("Tools counted.")).toBeNull();
  });
});
