/** A question on a phone and on the wall: nothing told before it is shown, nothing lost on the way. */
import { act, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import type { Schemas } from "../api/client";
import { PUSH_RODS } from "../testing/fixtures";
import { type Call, INES, problem, saying, serve, show } from "../testing/render";
import AskedNow from "./AskedNow";
import { chosen } from "./useAnswer";
import WallPage from "./WallPage";

const TOVE = { ...INES, may_teach: true };
const OPTIONS = [
  { id: "power", says: "power", valve: null },
  { id: "exhaust", says: "exhaust", valve: null },
];

function asked(more: Partial<Schemas["PhoneQuestion"]> = {}): Schemas["PhoneQuestion"] {
  return {
    id: 5,
    class_name: "Pump crew",
    engine_name: "Pump",
    kind: "which-stroke",
    asks: "On which stroke is cylinder 3?",
    several: false,
    options: OPTIONS,
    sheet: [],
    drawing: null,
    state: "open",
    seconds_left: null,
    own: null,
    answer: null,
    because: null,
    steps: null,
    ...more,
  };
}

const VALVES: Partial<Schemas["PhoneQuestion"]> = {
  kind: "which-valves",
  asks: "Which valves may be set now?",
  several: true,
  options: [
    { id: "1", says: "valve 1", valve: 1 },
    { id: "2", says: "valve 2", valve: 2 },
    { id: "none", says: "none of them", valve: null },
  ],
  drawing: {
    wheel_deg: 0,
    clockwise: true,
    marks: [{ label: "13-24", deg: 0 }],
    valves: [
      { number: 1, cylinder: 1, role: "exhaust", label: "", down: 0, lobe_deg: null },
      { number: 2, cylinder: 1, role: "intake", label: "", down: 0.4, lobe_deg: 40 },
      { number: 3, cylinder: 2, role: "intake", label: "", down: 0, lobe_deg: null },
    ],
    trains: PUSH_RODS.trains,
  },
};

/** A phone whose server says in turn: what each look gives is looked up when it is asked. */
function phone(now: () => Schemas["PhoneQuestion"] | null, put: () => object | "down") {
  const calls = serve((call) => {
    if (call.path.startsWith("/api/my/now")) {
      const question = now();
      return { body: { cursor: "1", questions: question ? [question] : [], day: null } };
    }
    const answer = put();
    return answer === "down" ? "down" : answer;
  });
  show(<AskedNow />, { path: "/work", route: "/work" });
  return calls;
}

const kept = (given: string[], sure = 0) => ({ body: { given, sure, right: null, wrong: null } });

const OPENS = { class_name: "Pump crew", title: "Measured", named: "First", of_id: 6 };

describe("where a lesson leads", () => {
  const led = (opens: Schemas["OpensOut"][], path = "/work") => {
    serve(() => ({ body: { cursor: "1", questions: [], day: null, opens } }));
    show(<AskedNow />, { path, route: "*" });
  };

  it.each([
    ["drill", "/drill/6"],
    ["practice", "/work?practice=6"],
    ["sheet", "/sheet/6"],
  ])("is offered at the foot of a page: %s", async (kind, path) => {
    led([{ ...OPENS, kind, key: "1.1" }]);
    const way = await screen.findByRole("link", { name: /Measured/ });
    expect(way.getAttribute("href")).toBe(path);
  });

  it("is put aside by who is at something, and not offered where one is", async () => {
    led(
      [
        { ...OPENS, kind: "sheet", key: "1.1" },
        { ...OPENS, kind: "drill", title: "Here", key: "2.1" },
      ],
      "/drill/6",
    );
    await screen.findByRole("link", { name: /Measured/ });
    expect(screen.queryByRole("link", { name: /Here/ })).toBeNull();
    await userEvent.click(screen.getByRole("button", { name: "Not now" }));
    expect(screen.queryByRole("link")).toBeNull();
  });
});

describe("on a phone", () => {
  it("simply appears, and sends what is tapped by itself", async () => {
    const calls = phone(
      () => asked(),
      () => kept(["exhaust"]),
    );
    await screen.findByRole("heading", { name: "On which stroke is cylinder 3?" });
    await userEvent.click(screen.getByRole("button", { name: "exhaust" }));
    await screen.findByText("Your answer is in. You may change it.");
    const sent = calls.filter((call) => call.method === "PUT");
    expect(sent).toEqual([
      {
        method: "PUT",
        path: "/api/questions/5/answer",
        body: { given: ["exhaust"], sure: 0 },
      },
    ]);
  });

  it("takes the engine's own valves, or none of them, and shows those not asked", async () => {
    const calls = phone(
      () => asked(VALVES),
      () => kept(["1", "2"]),
    );
    await userEvent.click(await screen.findByRole("button", { name: "none of them" }));
    await userEvent.click(screen.getByRole("button", { name: /^valve 1,/ }));
    await userEvent.click(screen.getByRole("button", { name: /^valve 2,/ }));
    expect(screen.queryByRole("button", { name: /^valve 3,/ })).toBeNull();
    expect(screen.getByRole("button", { name: "none of them" }).ariaPressed).toBe("false");
    await waitFor(() => {
      const last = calls.filter((call) => call.method === "PUT").at(-1);
      expect(last?.body).toEqual({ given: ["1", "2"], sure: 0 });
    });
  });

  it("waits for the network, and says so", async () => {
    let isDown = true;
    phone(
      () => asked(),
      () => (isDown ? "down" : kept(["power"])),
    );
    await userEvent.click(await screen.findByRole("button", { name: "power" }));
    await screen.findByText("Waiting for the network; your answer goes by itself.");
    isDown = false;
    act(() => {
      window.dispatchEvent(new Event("online"));
    });
    await screen.findByText("Your answer is in. You may change it.");
  });

  it("is told what counts where the answer came after the close", async () => {
    let state = "open";
    const says = "This question is closed. No answer of yours was counted.";
    phone(
      () => asked({ state }),
      () => ({ status: 409, body: problem(409, says) }),
    );
    await userEvent.click(await screen.findByRole("button", { name: "power" }));
    state = "closed";
    await screen.findByText(says);
    await screen.findByText("Closed. Look at the wall.");
    expect(screen.getByRole("button", { name: "power" }).ariaPressed).toBe("false");
  });

  it("counts down by itself, and takes nothing after it", async () => {
    phone(
      () => asked({ seconds_left: 1 }),
      () => kept([]),
    );
    await screen.findByText("1 second left");
    await screen.findByText("Closed. Look at the wall.", {}, { timeout: 3000 });
    expect(screen.getByRole("button", { name: "power" })).toHaveProperty("disabled", true);
  });

  it("goes on counting while an answer is kept", async () => {
    phone(
      () => asked({ seconds_left: 30 }),
      () => kept(["power"]),
    );
    await screen.findByText("29 seconds left", {}, { timeout: 3000 });
    await userEvent.click(screen.getByRole("button", { name: "power" }));
    await screen.findByText("Your answer is in. You may change it.");
    expect(screen.queryByText("30 seconds left")).toBeNull();
  });

  it("says what was right, why not, and how to get it right, once it is proved", async () => {
    const wrong = {
      mistake: "full-turn-out",
      label: "A full turn out",
      cure: "Look at the followers.",
      says: "Only the valves tell.",
      crank_deg: 360,
    };
    phone(
      () =>
        asked({
          state: "proof",
          answer: ["power"],
          because: "It fired 40° ago.",
          steps: ["720 − 180 + 50 = 590°"],
          own: { given: ["exhaust"], sure: 3, right: false, wrong },
        }),
      () => kept([]),
    );
    await screen.findByText(saying("Only the valves tell."));
    expect(screen.getByText("A full turn out.")).toBeTruthy();
    expect(screen.getByText("720 − 180 + 50 = 590°")).toBeTruthy();
    expect(screen.getByRole("button", { name: "power ✓ right" })).toBeTruthy();
  });

  it("makes room for one's own page, and stays in sight", async () => {
    phone(
      () => asked(),
      () => kept([]),
    );
    await userEvent.click(await screen.findByRole("button", { name: "Back to my page" }));
    expect(screen.queryByRole("heading")).toBeNull();
    await userEvent.click(screen.getByRole("button", { name: /On which stroke/ }));
    expect(screen.getByRole("heading", { name: /On which stroke/ })).toBeTruthy();
  });
});

describe("what is chosen after a tap", () => {
  it("is one where one is asked, and any number of valves", () => {
    expect(chosen({ several: false }, ["a"], "b")).toEqual(["b"]);
    expect(chosen({ several: true }, ["1"], "2")).toEqual(["1", "2"]);
    expect(chosen({ several: true }, ["1", "2"], "1")).toEqual(["2"]);
  });

  it("is none of them, or some of them", () => {
    expect(chosen({ several: true }, ["1", "2"], "none")).toEqual(["none"]);
    expect(chosen({ several: true }, ["none"], "2")).toEqual(["2"]);
  });
});

const ENGINE = {
  name: "Pump",
  layout: "single",
  rotation: "clockwise",
  ...PUSH_RODS,
  valves_called: "rockers",
  firing_order: [1],
  banks: [[1]],
  cylinders: [{ cylinder: 1, fire_deg: 0, companion: null }],
  valves: [],
  specs: [],
  marks: [],
};

function onTheWall(more: Partial<Schemas["WallOut"]> = {}): Schemas["WallOut"] {
  return {
    id: 5,
    engine_id: 4,
    version: 1,
    engine_name: "Pump",
    kind: "which-stroke",
    asks: "On which stroke is cylinder 1?",
    several: false,
    options: OPTIONS,
    sheet: [],
    crank_deg: 40,
    drawn: true,
    state: "open",
    seconds_left: null,
    answered: 3,
    present: 12,
    spread: null,
    proof: null,
    ...more,
  };
}

const SPREAD = { state: "spread", spread: { right: 1, votes: { power: 2, exhaust: 1 } } };
const PROOF: Partial<Schemas["WallOut"]> = {
  ...SPREAD,
  state: "proof",
  proof: {
    answer: ["exhaust"],
    because: "It fired 190° ago.",
    steps: [],
    mistakes: [
      { mistake: "full-turn-out", label: "A full turn out", cure: "Look.", answers: 2, sure: 1 },
    ],
    shows: {
      mistake: "full-turn-out",
      label: "A full turn out",
      cure: "Look.",
      says: "Only the valves tell.",
      crank_deg: 400,
    },
  },
};

const pressesOf = (calls: Call[]) =>
  calls
    .filter((call) => call.method === "POST")
    .map((call) => (call.body as Schemas["QuestionIn"]).request_key);

/** lost: so many answers to a question that is put do not come back. */
function wall(
  first: Schemas["WallOut"] | null,
  steps: (to: string) => Schemas["WallOut"] | null,
  lost = 0,
) {
  let isLost = lost;
  vi.stubGlobal("matchMedia", () => ({ matches: true, addEventListener: () => {} }));
  let now = first;
  const calls = serve((call) => {
    if (call.path === "/api/classes/2") return { body: { id: 2, name: "Pump crew" } };
    if (call.path.includes("/cycle"))
      return { body: { engine: ENGINE, roles: {}, segments: [], events: [] } };
    if (call.path === "/api/question-kinds")
      return { body: [{ id: "which-valves", title: "Which valves?", drawn: true, about: "" }] };
    if (call.path === "/api/engines") return { body: [{ id: 4, name: "Pump", away: false }] };
    if (call.path === "/api/classes/2/questions" && call.method === "GET")
      return { body: { questions: [], mistakes: [] } };
    if (call.path.endsWith("/step")) now = steps((call.body as { to: string }).to);
    if (call.path === "/api/classes/2/questions") {
      if (isLost-- > 0) return "down";
      // The same question stays on the wall, with the dialog that asked.
      now = lost > 0 ? first : onTheWall({ id: 6 });
    }
    return { body: { cursor: String(calls.length), question: now } };
  });
  show(<WallPage />, { path: "/ask/2", route: "/ask/:classId", person: TOVE });
  return calls;
}

describe("on the wall", () => {
  it("goes from the question over the room's votes to the proof, by a clicker", async () => {
    wall(onTheWall(), (to) =>
      to === "spread" ? onTheWall(SPREAD) : to === "proof" ? onTheWall(PROOF) : null,
    );
    await screen.findByRole("heading", { name: "On which stroke is cylinder 1?" });
    expect(screen.getByRole("status").textContent).toContain("3 of 12 answered");
    expect(screen.queryByText("2 votes")).toBeNull();
    await userEvent.keyboard("{PageDown}");
    await screen.findByText("2 votes");
    expect(screen.queryByText("✓ right")).toBeNull();
    await userEvent.keyboard("{PageDown}");
    await screen.findByText("Only the valves tell.");
    expect(screen.getByText("✓ right")).toBeTruthy();
    // The drawing turns a full turn on; what stands below the valves still answers for 40°.
    expect(screen.getByText(/turns to 400° to show why.*for 40°, where/)).toBeTruthy();
    expect(screen.getByText(/A full turn out: 2 answers/).parentElement?.textContent).toContain(
      "1 of them sure",
    );
    await userEvent.keyboard("{PageDown}");
    await screen.findByText("Nothing asked yet");
  });

  it("asks again where the same place is wanted", async () => {
    const calls = wall(onTheWall(), () => null);
    await screen.findByRole("heading", { name: "On which stroke is cylinder 1?" });
    await userEvent.keyboard("a");
    await userEvent.click(await screen.findByRole("button", { name: "Ask it here" }));
    await waitFor(() => {
      const put = calls.find((call) => call.method === "POST");
      expect(put?.body).toMatchObject({ engine_id: 4, crank_deg: 40, kind: "which-valves" });
    });
  });

  it("asks once where the answer was lost and it is pressed again, and anew after that", async () => {
    const calls = wall(onTheWall(), () => null, 1);
    await screen.findByRole("heading", { name: "On which stroke is cylinder 1?" });
    for (const times of [1, 2, 3]) {
      if (times !== 2) await userEvent.keyboard("a");
      await userEvent.click(await screen.findByRole("button", { name: "Ask it here" }));
      await waitFor(() => expect(pressesOf(calls)).toHaveLength(times));
      await waitFor(() => expect(screen.queryAllByRole("alert")).toHaveLength(times === 1 ? 1 : 0));
    }
    const [lost, again, next] = pressesOf(calls);
    expect(again).toBe(lost);
    expect(next).not.toBe(lost);
  });

  it("before it is asked: an engine, a question and a time", async () => {
    const calls = wall(null, () => null);
    await userEvent.click(await screen.findByText("40 s"));
    await userEvent.click(screen.getByRole("button", { name: "Ask it" }));
    await waitFor(() => {
      const put = calls.find((call) => call.method === "POST");
      expect(put?.body).toMatchObject({ engine_id: 4, crank_deg: null, seconds: 40 });
    });
  });
});
