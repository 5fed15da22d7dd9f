/** Progress as an instructor and as a student sees it, and signing off. */
import { screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { INES, problem, serve, show } from "../testing/render";
import { OwnSkills } from "./OwnSkills";
import ProgressPage from "./ProgressPage";

const TOVE = { ...INES, id: 1, display_name: "Tove", may_teach: true };
const skill: Schemas["SkillOut"] = {
  skill: "place",
  label: "Find the place",
  state: "shown",
  shares: [0.5, 1, 1],
  says: "100 %, then 100 % right of late",
  signed: null,
  train: null,
};
const TOLD: Schemas["ProgressOut"] = {
  class_id: 2,
  class_name: "Class A",
  student_id: 7,
  student: "Ines Falkner",
  feel: null,
  hands: [
    {
      ref: 3,
      title: "First",
      at: "2026-11-20T08:00:00Z",
      bias_mm: -0.0254,
      repeatability_mm: 0.011,
      slips: 1,
    },
    {
      ref: 4,
      title: "Second",
      at: "2026-11-25T08:00:00Z",
      bias_mm: null,
      repeatability_mm: null,
      slips: 0,
    },
  ],
  skills: [
    skill,
    {
      ...skill,
      skill: "shim",
      label: "Adjust by shim",
      state: "not-yet",
      says: "40 % right of late",
      train: { title: "practice run “Shims”", path: "/work" },
    },
  ],
};
const SIGNED = {
  ...TOLD,
  skills: [
    { ...skill, signed: { by: "Tove", at: "2026-11-25T09:00:00Z", note: "Seen by hand." } },
    TOLD.skills[1],
  ],
};

function open(answer: unknown = SIGNED, status = 200) {
  const calls = serve((call) =>
    call.method === "POST" ? { status, body: answer } : { body: TOLD },
  );
  show(<ProgressPage />, {
    path: "/progress/2/7",
    route: "/progress/:classId/:studentId",
    person: TOVE,
  });
  return calls;
}

describe("a student's progress", () => {
  it("tells the hand sheet by sheet, and what trains what is missing", async () => {
    open();
    const hands = within(await screen.findByRole("table"));
    expect(hands.getByText("0.025 mm (1 thou) tight")).toBeTruthy();
    expect(hands.getByText("0.011 mm")).toBeTruthy();
    expect(screen.getByText("Next: practice run “Shims”").getAttribute("href")).toBe("/work");
  });

  it("signs a skill off with a note", async () => {
    const calls = open();
    await userEvent.click(await screen.findByRole("button", { name: /Sign off Find the place/ }));
    await userEvent.type(screen.getByLabelText("Note"), "Seen by hand.");
    await userEvent.click(
      within(screen.getByRole("dialog")).getByRole("button", { name: "Sign off" }),
    );
    await screen.findByText(/signed off by Tove.*Seen by hand/);
    expect(calls.find((call) => call.method === "POST")?.body).toEqual({
      skill: "place",
      signed: true,
      note: "Seen by hand.",
    });
    expect(screen.getByRole("button", { name: /Withdraw Find the place/ })).toBeTruthy();
  });

  it("keeps the note when it is refused", async () => {
    open(problem(403, "Only instructors sign off."), 403);
    await userEvent.click(await screen.findByRole("button", { name: /Sign off Find the place/ }));
    await userEvent.type(screen.getByLabelText("Note"), "Seen");
    await userEvent.click(
      within(screen.getByRole("dialog")).getByRole("button", { name: "Sign off" }),
    );
    await screen.findByText("Only instructors sign off.");
    expect((screen.getByLabelText("Note") as HTMLTextAreaElement).value).toBe("Seen");
  });
});

describe("my skills", () => {
  const row = { id: 2, name: "Class A", role: "student", students: 2 };

  it("are shown once there is something to show", async () => {
    serve((call) => ({ body: call.path === "/api/classes" ? [row] : SIGNED }));
    show(<OwnSkills />);
    await screen.findByText(/signed off by Tove/);
    expect(screen.queryByRole("button")).toBeNull();
  });

  it("are silent before", async () => {
    const nothing = { ...TOLD, skills: [{ ...skill, state: "unseen", says: "not attempted yet" }] };
    const calls = serve((call) => ({ body: call.path === "/api/classes" ? [row] : nothing }));
    show(<OwnSkills />);
    await expect.poll(() => calls.length).toBe(2);
    expect(screen.queryByText("My skills")).toBeNull();
  });
});
