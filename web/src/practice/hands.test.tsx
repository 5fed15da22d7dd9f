/** Hands: what is told on one's own, step leaves, angled leaves, slack, questions under the thumb, the notepad's columns. */
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it } from "vitest";
import { aFreshDevice, answered, RUN, run, sent } from "../testing/practice";
import { stepWords } from "./leaves";

beforeEach(aFreshDevice);

describe("on one's own", () => {
  it("tells in and out and how hard it is held, and no word for it", async () => {
    const user = userEvent.setup();
    let facts: object = { is_in: true, pull: 0.5, total_um: 250 };
    run((_call, count) => answered(3 + count, { facts }));
    await screen.findByText("Rocked on.");
    await user.keyboard("f");
    const told = screen.getByTestId("feel");
    await waitFor(() => expect(told.textContent).toBe("it is in"));
    expect(screen.getByLabelText<HTMLMeterElement>("How hard the leaf is held").value).toBe(0.5);
    facts = { is_in: false, pull: 1, total_um: 250 };
    await user.keyboard("f");
    await waitFor(() => expect(told.textContent).toBe("it stays out"));
    expect(document.body.textContent).not.toMatch(/slides as if|held lightly|only by force/);
  });
});

describe("tools", () => {
  it("push a step leaf in as one, and tell its tip and its body", async () => {
    const user = userEvent.setup();
    const facts = { feel: "free", body_feel: "no", pull: 1, total_um: 200 };
    const calls = run((_call, count) => answered(3 + count, { facts }), {
      ...RUN,
      level: "prompted",
      steps_um: [
        [200, 250],
        [250, 300],
      ],
    });
    await user.click(await screen.findByRole("button", { name: "0.20/0.25" }));
    expect(screen.getByText("0.20/0.25 mm · 7.9/9.8 thou")).toBeTruthy();
    await user.keyboard("f");
    await waitFor(() =>
      expect(screen.getByTestId("feel").textContent).toMatch(/^tip: free.*body: stays out$/),
    );
    expect(sent(calls)[0]?.action).toMatchObject({ leaves_um: [200], body_um: 250 });
    // A plain leaf taken after it is a plain leaf.
    await user.click(screen.getByRole("button", { name: "0.30" }));
    await user.keyboard("f");
    await waitFor(() => expect(sent(calls)).toHaveLength(2));
    expect(sent(calls)[1]?.action).not.toHaveProperty("body_um");
    expect(stepWords(203, 254, "thou")).toBe("8/10 thou · 0.20/0.25 mm");
  });

  it("are bent where that is wanted, and only where such leaves lie beside the others", async () => {
    const user = userEvent.setup();
    const calls = run((_call, count) => answered(3 + count, { facts: { is_in: true, pull: 0 } }), {
      ...RUN,
      angled_um: [240, 260],
    });
    await user.click(await screen.findByLabelText("angled"));
    expect(screen.queryByRole("button", { name: "0.25" })).toBeNull();
    await user.keyboard("f");
    await waitFor(() => expect(sent(calls)).toHaveLength(1));
    expect(sent(calls)[0]?.action).toMatchObject({ leaves_um: [240], angled: true });
    // A screw is set with it by its button as by its key.
    await user.click(screen.getByRole("radio", { name: "Adjust" }));
    await user.click(screen.getByRole("button", { name: /Turn until the leaf drags/ }));
    await user.keyboard("s");
    await waitFor(() => expect(sent(calls)).toHaveLength(3));
    for (const { action } of sent(calls).slice(1))
      expect(action).toMatchObject({ do: "set", leaves_um: [240], angled: true });
  });

  it("press the push rod's slack out, by the button and by its key", async () => {
    const user = userEvent.setup();
    const calls = run((_call, count) => answered(3 + count));
    await user.click(await screen.findByRole("button", { name: /Press its push rod down/ }));
    await user.keyboard("p");
    await waitFor(() => expect(sent(calls)).toHaveLength(2));
    expect(sent(calls).map((body) => body.action.do)).toEqual(["push", "push"]);
  });
});

describe("a question before a mistake", () => {
  it("is asked and answered beside the tools, with the way back under the finger", async () => {
    const user = userEvent.setup();
    const calls = run((call, count) =>
      (call.body as { sure: boolean }).sure
        ? answered(3 + count, { facts: { feel: "drag", pull: 0.5, total_um: 250 } })
        : answered(3, { asks: "Is valve 1 on its heel here?" }),
    );
    await screen.findByText("Rocked on.");
    await user.keyboard("f");
    const asked = await screen.findByRole("alert");
    expect(asked.closest(".hand-side")).not.toBeNull();
    expect(document.activeElement).toBe(
      within(asked).getByRole("button", { name: "I look again" }),
    );
    await user.click(within(asked).getByRole("button", { name: "Do it all the same" }));
    await waitFor(() => expect(sent(calls).at(-1)?.sure).toBe(true));
    expect(screen.queryByRole("alert")).toBeNull();
    // The leaf that waited for the answer is felt in the pad.
    await waitFor(() => expect(screen.getByTestId("feel").textContent).toContain("drag"));
  });
});

describe("the notepad", () => {
  it("has the columns that each valve's adjuster needs", async () => {
    const user = userEvent.setup();
    const calls = run((_call, count) => answered(3 + count));
    const pad = within(await screen.findByRole("region", { name: "Notepad" }));
    // Valve 1 has a screw and a torque, valve 2 a shim.
    expect(pad.getByLabelText("Torque of valve 1")).toBeTruthy();
    expect(pad.queryByLabelText("Torque of valve 2")).toBeNull();
    expect(pad.queryByLabelText("Shim fitted of valve 1")).toBeNull();
    await user.type(pad.getByLabelText("Shim to fit of valve 2"), "2.55");
    await user.type(pad.getByLabelText("Settled figure of valve 1"), "0.24{Enter}");
    await waitFor(() => expect(sent(calls)).toHaveLength(2));
    expect(sent(calls).map((body) => body.action)).toEqual([
      { do: "write", valve: 2, column: "chosen", text: "2.55" },
      { do: "write", valve: 1, column: "settled", text: "0.24" },
    ]);
    expect(pad.queryByLabelText(/Running/)).toBeNull();
  });
});
