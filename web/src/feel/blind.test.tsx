/** Blind feel: nothing tells the gap but the leaf, until it was guessed. */
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it } from "vitest";
import { aFreshDevice } from "../testing/practice";
import { type Call, INES, problem, serve, show } from "../testing/render";
import BlindPage from "./BlindPage";

beforeEach(aFreshDevice);

const HAND = {
  tries: 20,
  words_right: 17,
  off_mm: -0.012,
  threshold_mm: 0.011,
  low_mm: 0.0085,
  high_mm: 0.016,
};
const SEEN = {
  gap_mm: 0.262,
  word: "drag",
  right_word: true,
  off_mm: -0.002,
  tries: 20,
  hand: HAND,
};

function open(guess: object = { status: 201, body: SEEN }): Call[] {
  const calls = serve((call) => {
    if (call.path.endsWith("/blind-feel"))
      return { body: { id: 9, leaf_um: 250, tries: 19, hand: null } };
    if (call.path.endsWith("/pushes")) return { body: { pull: 0.5, is_in: true } };
    if (call.path.endsWith("/guess")) return guess;
    return undefined;
  });
  show(<BlindPage />, { path: "/feel/2", route: "/feel/:classId", person: INES });
  return calls;
}

async function push() {
  await userEvent.click(await screen.findByRole("button", { name: "Push and draw it" }));
  await waitFor(() => expect(screen.getByTestId("feel").textContent).toBe("it is in"));
}

describe("blind feel", () => {
  it("is guessed only after the leaf was pushed, and sends what was named", async () => {
    const calls = open();
    const see = await screen.findByRole<HTMLButtonElement>("button", { name: "See it" });
    expect(see.disabled).toBe(true);
    await push();
    await userEvent.click(screen.getByRole("radio", { name: "Drags" }));
    await userEvent.type(screen.getByLabelText("The gap"), "0,26");
    await userEvent.click(see);
    await screen.findByText(/It was/);
    expect(calls.find((call) => call.path.endsWith("/guess"))?.body).toEqual({
      named: "drag",
      gap: "0,26",
      unit: "mm",
    });
    expect(screen.getByText("0.262 mm")).toBeTruthy();
    expect(screen.getByText("You guessed 0.002 mm too small.")).toBeTruthy();
    expect(screen.getByText(/Named rightly/)).toBeTruthy();
  });

  it("shows no figure of how the leaf is held, and no gap that tells it", async () => {
    open();
    await push();
    expect(screen.queryByLabelText("How hard the leaf is held")).toBeNull();
    expect(document.body.textContent).not.toMatch(/drag: held|slides as if/);
  });

  it("tells what the hand tells apart once there are enough", async () => {
    open();
    await push();
    await userEvent.click(screen.getByRole("radio", { name: "Only by force" }));
    await userEvent.type(screen.getByLabelText("The gap"), "0.25");
    await userEvent.click(screen.getByRole("button", { name: "See it" }));
    await screen.findByText("0.011 mm (0.4 thou)");
    expect(screen.getByText(/0.01 mm too small on the mean/)).toBeTruthy();
    // The next gap is asked for anew.
    await userEvent.click(screen.getByRole("button", { name: "The next one" }));
    expect(await screen.findByRole("button", { name: "Push and draw it" })).toBeTruthy();
  });

  it("keeps what was typed where it is refused", async () => {
    open({ status: 422, body: problem(422, "The gap: “x” is not a length.") });
    await push();
    await userEvent.click(screen.getByRole("radio", { name: "Drags" }));
    await userEvent.type(screen.getByLabelText("The gap"), "x");
    await userEvent.click(screen.getByRole("button", { name: "See it" }));
    await screen.findByText(/is not a length/);
    expect(screen.getByLabelText<HTMLInputElement>("The gap").value).toBe("x");
  });
});
