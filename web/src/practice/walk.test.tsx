/** The shown job on the page: the step, why, words that can be tapped, and a hand that does it. */
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it } from "vitest";
import { partsOf, piecesOf } from "../app/glossary";
import { aFreshDevice, answered, RUN, sent, TABLE } from "../testing/practice";
import { type Call, INES, serve, show } from "../testing/render";
import PracticePage from "./PracticePage";

beforeEach(aFreshDevice);

const STEP = {
  says: "Turn the crank on by 90°: mark T.",
  why: "There valve 2 is on its heel, where alone a gap may be measured.",
  action: { do: "turn", by_deg: 90 },
  valve: 2,
  gap: "opening",
};

function open(level: string, step: object = STEP): Call[] {
  const calls = serve((call) => {
    if (call.path.endsWith("/walk")) return { body: step };
    if (call.path.endsWith("/actions")) return answered(4);
    if (call.path === "/api/runs/5") return { body: { ...RUN, level } };
    if (call.path.startsWith("/api/engines/4/cycle")) return { body: TABLE };
    return undefined;
  });
  show(<PracticePage />, { path: "/practice/5", route: "/practice/:runId", person: INES });
  return calls;
}

describe("the shown job", () => {
  it("says what to do and why, and does it where that is wanted", async () => {
    const calls = open("shown");
    const step = await screen.findByRole("region", { name: "Next step" });
    expect(step.textContent).toContain("Turn the crank on by 90°: mark T.");
    await userEvent.click(screen.getByRole("button", { name: "Show me" }));
    await waitFor(() => expect(sent(calls)).toHaveLength(1));
    expect(sent(calls)[0]?.action).toEqual({ do: "turn", by_deg: 90 });
    // The valve that the step is about is in hand.
    expect(screen.getByRole("img", { name: /Gap of valve 2/ })).toBeTruthy();
  });

  it("explains a word of the trade at a tap, with a drawing, and goes back to the step", async () => {
    open("shown");
    await userEvent.click(await screen.findByRole("button", { name: "heel" }));
    const card = await screen.findByRole("dialog", { name: "heel" });
    expect(card.textContent).toContain("The round back of the cam");
    expect(card.querySelector("svg path.told")).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Back" }));
    expect(screen.queryByText(/The round back of the cam/)).toBeNull();
  });

  it("is there at no other level, and no more once the run is over", async () => {
    const calls = open("alone");
    await screen.findByText("Rocked on.");
    expect(calls.some((call) => call.path.endsWith("/walk"))).toBe(false);
    expect(screen.queryByRole("region", { name: "Next step" })).toBeNull();
  });

  it("shows nothing where nothing is left to do", async () => {
    open("shown", { ...STEP, says: null, why: "", action: null, valve: null });
    await screen.findByText("Rocked on.");
    expect(screen.queryByRole("region", { name: "Next step" })).toBeNull();
  });

  it("cuts a text at its words and loses nothing of it", () => {
    const text = "Heel, lock nut (the nut) and crankcase.";
    const parts = partsOf(text);
    expect(parts.join("")).toBe(text);
    expect(parts).toContain("lock nut");
    expect(parts).not.toContain("crank");
    expect(partsOf("Nothing to tap.")).toEqual(["Nothing to tap."]);
  });

  it("keeps brackets and full stops with their word, which is tapped once", () => {
    const text = "Heel, lock nut (the nut), the overlap/heel, “drag”. Heel.";
    const pieces = piecesOf(text);
    const said = pieces.map((piece) =>
      typeof piece === "string" ? piece : piece.before + piece.word + piece.after,
    );
    expect(said.join("")).toBe(text);
    expect(said).toContain("Heel,");
    expect(said).toContain("overlap/");
    expect(said).toContain("“drag”.");
    expect(said.every((part) => !/[(“]$/.test(part))).toBe(true);
    const taps = pieces.flatMap((piece) => (typeof piece === "string" ? [] : piece.term.word));
    expect(new Set(taps).size).toBe(taps.length);
    expect(piecesOf("heel")).toHaveLength(1);
  });
});
