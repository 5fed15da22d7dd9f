/** Lessons on the shelf, written, and held by Page Down and Page Up. */
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../api/client";
import { INES, problem, serve, show, showOnDesk } from "../testing/render";
import HoldPage from "./HoldPage";
import LessonEditor from "./LessonEditor";
import LessonsPage from "./LessonsPage";
import NotesPage from "./NotesPage";

const TOVE = { ...INES, may_teach: true };
const STEP: Schemas["LessonStepOut"] = {
  ...{ kind: "text", title: "Told", text: "One.\nTwo.", notes: "Show it.", minutes: 5 },
  ...{ engine: "", at_deg: null, view: "whole", cover: false, question: "", seconds: null },
  ...{ named: "", engine_id: null, named_id: null, missing: "" },
};
const LESSON: Schemas["LessonOut"] = {
  ...{ id: 3, title: "Valves", about: "An hour.", steps: 2, minutes: 9, made_by: "Tove" },
  ...{ changed_at: "2026-11-27T09:00:00Z", mine: true, away: false, revision: 4 },
  document: {
    format: "edrix-lesson/1",
    title: "Valves",
    steps: [
      { kind: "text", title: "Told", text: "One.\nTwo.", minutes: 5 },
      { kind: "question", title: "Asked", engine: "Pump", question: "which-valves" },
    ],
  },
  held: [
    STEP,
    {
      ...STEP,
      ...{ kind: "question", title: "Asked", text: "", notes: "", minutes: 4, engine: "Pump" },
      ...{ question: "which-valves", at_deg: 0, engine_id: 4 },
    },
    {
      ...STEP,
      ...{ kind: "sheet", title: "Measured", text: "", named: "First", minutes: 0 },
      missing: "This class has no sheet “First”.",
    },
  ],
};

function server(answer: (call: { method: string; path: string; body: unknown }) => object | null) {
  return serve((call) => {
    const own = answer(call);
    if (own) return own;
    if (call.path.startsWith("/api/lessons/3")) return { body: LESSON };
    if (call.path === "/api/lessons") return { body: [LESSON, { ...LESSON, id: 8, mine: false }] };
    if (call.path === "/api/classes")
      return { body: [{ id: 2, name: "Pump crew", role: "instructor", away: false }] };
    if (call.path === "/api/engines") return { body: [{ id: 4, name: "Pump", away: false }] };
    if (call.path === "/api/question-kinds")
      return { body: [{ id: "which-valves", title: "Which valves?", drawn: true, about: "" }] };
    return { body: { cursor: "1", question: null } };
  });
}

beforeEach(() => {
  localStorage.clear();
  vi.stubGlobal(
    "BroadcastChannel",
    class {
      onmessage = null;
      postMessage() {}
      close() {}
    },
  );
});

describe("on the shelf", () => {
  it("is held with a class, changed where it is one's own, else copied", async () => {
    const calls = server((call) =>
      call.path === "/api/lessons/8"
        ? { body: { ...LESSON, id: 8 } }
        : call.method === "POST"
          ? { body: { ...LESSON, id: 9 } }
          : null,
    );
    showOnDesk(<LessonsPage />, { path: "/lessons", route: "/lessons", person: TOVE });
    const [first] = await screen.findAllByRole("link", { name: "Hold it" });
    expect(first?.getAttribute("href")).toBe("/lesson/3?room=shop&class=2");
    expect(screen.getAllByRole("link", { name: "Change" })).toHaveLength(1);
    await userEvent.click(screen.getByRole("button", { name: /Take a copy/ }));
    await waitFor(() => {
      const made = calls.find((call) => call.method === "POST");
      expect(made?.body).toEqual({ document: LESSON.document });
    });
  });

  it("says of a file that is none what it is", async () => {
    server(() => null);
    showOnDesk(<LessonsPage />, { path: "/lessons", route: "/lessons", person: TOVE });
    const file = new File(["no lesson"], "plan.json", { type: "application/json" });
    await userEvent.upload(await screen.findByLabelText("Lesson file"), file);
    await screen.findByText("plan.json is no lesson file: it is not JSON.");
  });
});

describe("written", () => {
  const open = (path: string, answer: Parameters<typeof server>[0] = () => null) => {
    const calls = server(answer);
    showOnDesk(<LessonEditor />, { path, route: "/lessons/:lessonId", person: TOVE });
    return calls;
  };

  it("is saved whole, by the revision it is based on", async () => {
    const calls = open("/lessons/3", (call) =>
      call.method === "PUT" ? { body: { ...LESSON, revision: 5 } } : null,
    );
    const [title] = await screen.findAllByLabelText("Title");
    await userEvent.clear(title as HTMLElement);
    await userEvent.type(title as HTMLElement, "Valves, again");
    await userEvent.click(screen.getByRole("button", { name: "Drill" }));
    await userEvent.click(screen.getByRole("button", { name: "Save" }));
    await waitFor(() => {
      const put = calls.find((call) => call.method === "PUT");
      expect(put?.body).toMatchObject({
        revision: 4,
        document: {
          title: "Valves, again",
          steps: [{ title: "Told" }, { title: "Asked" }, { kind: "drill", engine: "Pump" }],
        },
      });
    });
  });

  it("tells a fault at its step, and loses nothing", async () => {
    const says = "The lesson is not kept: $.steps[0].title: is empty.";
    open("/lessons/new", (call) =>
      call.method === "POST"
        ? {
            status: 422,
            body: problem(422, says, {
              fields: [{ path: "$.steps[0].title", problem: "is empty; give it a title" }],
            }),
          }
        : null,
    );
    const [title] = await screen.findAllByLabelText("Title");
    await userEvent.type(title as HTMLElement, "New");
    await userEvent.click(screen.getByRole("button", { name: "Save" }));
    await screen.findByText("is empty; give it a title");
    expect((title as HTMLInputElement).value).toBe("New");
    expect(screen.getByText(/Not saved yet/)).toBeTruthy();
  });
});

describe("held", () => {
  const hold = () => {
    const calls = server(() => null);
    show(<HoldPage />, { path: "/lesson/3?class=2", route: "/lesson/:lessonId", person: TOVE });
    return calls;
  };

  it("goes on by Page Down and back by Page Up; a question is put first", async () => {
    const calls = hold();
    await screen.findByRole("heading", { name: "Told" });
    expect(screen.getByText("Two.")).toBeTruthy();
    expect(screen.queryByText("Show it.")).toBeNull();
    await userEvent.keyboard("{PageDown}");
    await screen.findByRole("heading", { name: "Asked" });
    await screen.findByRole("button", { name: /Put it on every phone/ });
    await userEvent.keyboard("{PageDown}");
    await waitFor(() => {
      const put = calls.filter((call) => call.method === "POST");
      expect(put.map((call) => call.body)).toMatchObject([
        { engine_id: 4, kind: "which-valves", crank_deg: 0 },
      ]);
    });
    // The server says that nothing is up any more: it was asked and is done.
    await screen.findByText("Asked, shown and proved.");
    await userEvent.keyboard("{PageDown}");
    await screen.findByText("This class has no sheet “First”.");
    await userEvent.keyboard("{PageUp}{PageUp}");
    await screen.findByRole("heading", { name: "Told" });
  });

  it("has each step on the phones of the class, and says while the network is away", async () => {
    const sheet = { ...STEP, ...{ kind: "sheet", title: "Measured", named: "First", named_id: 6 } };
    let isAway = true;
    const calls = server((call) => {
      if (call.path === "/api/classes/2/held")
        return isAway ? { status: 503, body: {} } : { body: { leads: true } };
      return call.path.startsWith("/api/lessons/3")
        ? { body: { ...LESSON, held: [STEP, sheet] } }
        : null;
    });
    const held = () => calls.filter((call) => call.path === "/api/classes/2/held");
    const { unmount } = show(<HoldPage />, {
      path: "/lesson/3?class=2&step=2",
      route: "/lesson/:lessonId",
      person: TOVE,
    });
    await screen.findByText(/The network is away/);
    isAway = false;
    await screen.findByText(/at the foot of every phone/, {}, { timeout: 5000 });
    expect(held().at(-1)?.body).toEqual({ lesson_id: 3, step: 2 });
    unmount();
    await waitFor(() => expect(held().at(-1)?.method).toBe("DELETE"));
  });

  it("says that a sheet is closed to students, rather than that they have it", async () => {
    const sheet = { ...STEP, ...{ kind: "sheet", title: "Measured", named: "First", named_id: 6 } };
    server((call) => {
      if (call.path === "/api/classes/2/held") return { body: { leads: false } };
      return call.path.startsWith("/api/lessons/3") ? { body: { ...LESSON, held: [sheet] } } : null;
    });
    show(<HoldPage />, { path: "/lesson/3?class=2", route: "/lesson/:lessonId", person: TOVE });
    await screen.findByText(/closed to students now/);
  });

  it("is large and dark by one key, whatever the step", async () => {
    hold();
    await screen.findByRole("heading", { name: "Told" });
    await userEvent.keyboard("{PageDown}");
    await screen.findByRole("button", { name: /Put it on every phone/ });
    await userEvent.keyboard("b");
    await waitFor(() => expect(document.documentElement.dataset.room).toBe("shop"));
  });

  it("has notes and the next step on the instructor's own screen", async () => {
    server(() => null);
    show(<NotesPage />, {
      path: "/lesson/3/notes?class=2",
      route: "/lesson/:lessonId/notes",
      person: TOVE,
    });
    await screen.findByText("Show it.");
    expect(screen.getByText("Asked")).toBeTruthy();
    expect(screen.getByText(/planned here from 0 to 5 of 9/)).toBeTruthy();
  });
});
