/** Leaves: how they follow a finger, what is felt by finger and key, bridges, the leaf that is shown. */
import { fireEvent, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it } from "vitest";
import { aFreshDevice, answered, RUN, run, sent, TABLE } from "../testing/practice";
import { INES, serve, show } from "../testing/render";
import {
  bendPx,
  GATE_PX,
  howEntered,
  leafPx,
  leafWord,
  neighbour,
  sumWords,
  toggled,
} from "./leaves";
import PracticePage from "./PracticePage";
import { toNextMark } from "./Turning";

beforeEach(aFreshDevice);

describe("leaves", () => {
  it("follow a finger less the harder they are held", () => {
    const far = GATE_PX + 100;
    const places = [0, 0.4, 0.8, 1].map((pull) => leafPx(far, pull));
    expect(places).toEqual([...places].sort((one, other) => other - one));
    expect(places.at(-1)).toBe(GATE_PX);
    expect(leafPx(10, null)).toBe(10);
    expect(leafPx(far, null)).toBe(GATE_PX);
  });

  it("bend when they are refused, and only then", () => {
    expect(bendPx(GATE_PX + 60, 1)).toBeGreaterThan(10);
    expect(bendPx(GATE_PX + 60, 0.9)).toBe(0);
    expect(howEntered(3)).toBe("straight");
    expect(howEntered(-40)).toBe("skewed");
    expect(howEntered(40)).toBe("tip");
  });

  it("are told in both units, and stacked", () => {
    expect(sumWords([200, 80], "mm")).toBe("0.28 mm · 11 thou");
    expect(sumWords([254], "thou")).toBe("10 thou · 0.254 mm");
    expect(leafWord(254, "thou")).toBe("10");
    expect(leafWord(250, "mm")).toBe("0.25");
    expect(toggled([250], 200, false)).toEqual([200]);
    expect(toggled([250], 200, true)).toEqual([250, 200]);
    expect(toggled([250, 200], 200, true)).toEqual([250]);
    expect(toggled([250], 250, true)).toEqual([250]);
    expect(neighbour([300, 200, 250], 250, 1)).toBe(300);
    expect(neighbour([300, 200, 250], 200, -1)).toBe(200);
  });

  it("knows the way to the next mark", () => {
    expect(toNextMark(TABLE as never, 10)).toBe(338);
    expect(toNextMark(TABLE as never, 348)).toBe(12);
  });
});

describe("the feel", () => {
  it("comes to the near side of a bridge first, and lies under both when pushed on", async () => {
    const calls = run(
      (_call, count) => answered(3 + count, { facts: { feel: "free", pull: 0.1, total_um: 250 } }),
      { ...RUN, bridged: [1, 2, 3, 4] },
    );
    const pad = await screen.findByRole("img", { name: /Gap of valve 1/ });
    fireEvent.pointerDown(pad, { clientX: 0, clientY: 50, pointerId: 1 });
    fireEvent.pointerMove(pad, { clientX: GATE_PX + 8, clientY: 50, pointerId: 1 });
    await screen.findByText(/near side of the bridge only/);
    fireEvent.pointerMove(pad, { clientX: GATE_PX + 120, clientY: 50, pointerId: 1 });
    fireEvent.pointerMove(pad, { clientX: GATE_PX + 150, clientY: 50, pointerId: 1 });
    await waitFor(() => expect(sent(calls)).toHaveLength(2));
    expect(sent(calls).map((body) => body.action)).toMatchObject([
      { do: "try", how: "one-side" },
      { do: "try", how: "straight" },
    ]);
  });

  it("tries a leaf once for each press, and not again when the tool is taken up again", async () => {
    const user = userEvent.setup();
    const felt = { facts: { feel: "free", pull: 0.1, total_um: 250 } };
    const calls = run((_call, count) => answered(3 + count, felt));
    await screen.findByText("Rocked on.");
    await user.keyboard("f");
    await waitFor(() => expect(sent(calls)).toHaveLength(1));
    await user.click(screen.getByRole("radio", { name: "Turn" }));
    await user.click(screen.getByRole("radio", { name: "Feel" }));
    await screen.findByTestId("feel");
    expect(sent(calls)).toHaveLength(1);
    // From another tool the key takes the leaf up, and tries it.
    await user.click(screen.getByRole("radio", { name: "Turn" }));
    await user.keyboard("f");
    await waitFor(() => expect(sent(calls)).toHaveLength(2));
  });

  it("feels the near side of a bridge by a key of its own, and only where there are bridges", async () => {
    const user = userEvent.setup();
    const felt = { facts: { feel: "free", pull: 0.1, total_um: 250 } };
    const calls = run((_call, count) => answered(3 + count, felt), {
      ...RUN,
      bridged: [1, 2, 3, 4],
    });
    await screen.findByText("Rocked on.");
    await user.keyboard("{Shift>}F{/Shift}");
    await screen.findByText(/near side of the bridge only/);
    await user.keyboard("f");
    await waitFor(() => expect(sent(calls)).toHaveLength(2));
    expect(sent(calls).map((body) => body.action)).toMatchObject([
      { how: "one-side" },
      { how: "straight" },
    ]);
  });

  it("demonstrates the next leaf where that is wanted", async () => {
    const user = userEvent.setup();
    let pushed = 0;
    serve((call) => {
      if (call.path.includes("/advice"))
        return {
          body: {
            leaves_mm: [0.3],
            verdict: "undecided",
            low_mm: 0.2,
            high_mm: null,
            says: "Try 0.30.",
            proves: "If 0.3 mm goes in, the gap is at least that.",
          },
        };
      if (call.path.endsWith("/actions")) {
        pushed += 1;
        return answered(4, { facts: { feel: "drag", pull: 0.5, total_um: 300 } });
      }
      if (call.path === "/api/runs/5") return { body: { ...RUN, level: "shown" } };
      if (call.path.startsWith("/api/engines/4/cycle")) return { body: TABLE };
      return undefined;
    });
    show(<PracticePage />, { path: "/practice/5", route: "/practice/:runId", person: INES });
    expect(await screen.findByText(/at least that/)).toBeTruthy();
    await user.click(screen.getByRole("button", { name: /Take 0.30 mm/ }));
    await user.click(await screen.findByRole("button", { name: "Show me: push it in" }));
    await waitFor(() => expect(screen.getByTestId("feel").textContent).toContain("drag"));
    expect(pushed).toBe(1);
  });

  it("feels by a key, and tells it in words", async () => {
    const user = userEvent.setup();
    const calls = run(() => answered(4, { facts: { feel: "drag", pull: 0.5, total_um: 300 } }));
    await screen.findByText("Rocked on.");
    await user.keyboard("]f");
    await waitFor(() => expect(screen.getByTestId("feel").textContent).toContain("drag"));
    expect(sent(calls)[0]?.action).toMatchObject({ do: "try", leaves_um: [300], how: "straight" });
  });

  it("feels by a finger, once for each push, and notices a crooked one", async () => {
    const calls = run((_call, count) =>
      answered(3 + count, { facts: { feel: "no", pull: 1, total_um: 250 } }),
    );
    const pad = await screen.findByRole("img", { name: /Gap of valve 1/ });
    const push = async (across: number, times: number) => {
      fireEvent.pointerDown(pad, { clientX: 0, clientY: 50, pointerId: 1 });
      fireEvent.pointerMove(pad, { clientX: GATE_PX + 20, clientY: 50 + across, pointerId: 1 });
      fireEvent.pointerMove(pad, { clientX: GATE_PX + 60, clientY: 50 + across, pointerId: 1 });
      fireEvent.pointerUp(pad, { pointerId: 1 });
      await waitFor(() => expect(sent(calls)).toHaveLength(times));
    };
    await push(0, 1);
    await push(-60, 2);
    await push(60, 3);
    expect(sent(calls).map((body) => (body.action as unknown as { how: string }).how)).toEqual([
      "straight",
      "skewed",
      "tip",
    ]);
  });
});

describe("help", () => {
  it("finds a stack and puts it in the hand", async () => {
    const user = userEvent.setup();
    const calls = serve((call) => {
      if (call.path.startsWith("/api/runs/5/stack"))
        return { body: { leaves_um: [200, 250], total_mm: 0.45, error_mm: 0 } };
      if (call.path === "/api/runs/5") return { body: { ...RUN, stack_help: true } };
      return call.path.startsWith("/api/engines/4/cycle") ? { body: TABLE } : undefined;
    });
    show(<PracticePage />, { path: "/practice/5", route: "/practice/:runId", person: INES });
    await user.type(await screen.findByLabelText("Thickness to make, in mm"), "0,45");
    await user.click(screen.getByRole("button", { name: "Which leaves make it?" }));
    expect(await screen.findByText("0.45 mm · 17.7 thou")).toBeTruthy();
    expect(calls.some((call) => call.path.includes("target=0%2C45&unit=mm"))).toBe(true);
  });
});
