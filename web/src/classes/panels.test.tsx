/** Forms that slide in: what was typed is not lost by a slip, and what was discarded is gone. */
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { INES, problem, serve, showOnDesk } from "../testing/render";
import { SheetsTab } from "./SheetsTab";
import { StudentsTab } from "./StudentsTab";

const TOVE = { ...INES, id: 1, display_name: "Tove", may_teach: true };
const FOUND = { id: 2, name: "Class A", away: false, students: [], left: [] };

const FORMS = [
  ["Set a sheet", "Title", <SheetsTab key="sheets" classId={2} />],
  ["Add students", "Names", <StudentsTab key="students" found={FOUND} />],
] as const;

describe.each(FORMS)("%s", (opens, field, tab) => {
  async function open() {
    serve(() => ({ body: [] }));
    showOnDesk(tab, { person: TOVE });
    await userEvent.click(await screen.findByRole("button", { name: opens }));
    await userEvent.type(await screen.findByLabelText(field), "Second");
    await userEvent.click(screen.getByRole("button", { name: "Cancel" }));
    await screen.findByText("Leave without saving?");
  }
  const typed = () => (screen.getByLabelText(field) as HTMLInputElement).value;

  it("asks before typed words are dropped, and keeps them", async () => {
    await open();
    await userEvent.click(screen.getByRole("button", { name: "Keep typing" }));
    expect(typed()).toBe("Second");
  });

  it("begins empty after they were discarded", async () => {
    await open();
    await userEvent.click(screen.getByRole("button", { name: "Discard it" }));
    await userEvent.click(screen.getByRole("button", { name: opens }));
    await screen.findByLabelText(field);
    expect(typed()).toBe("");
  });
});

describe("a name that was typed wrong", () => {
  const found = {
    ...FOUND,
    students: [{ id: 7, display_name: "Ines Flakner", sign_in_name: "ines" }],
  };

  async function rename() {
    await userEvent.click(await screen.findByRole("button", { name: "Rename Ines Flakner" }));
    const field = await screen.findByLabelText("New name");
    await userEvent.clear(field);
    await userEvent.type(field, "Ines Falkner");
    await userEvent.click(screen.getByRole("button", { name: "Rename" }));
  }

  it("is put right where it is seen", async () => {
    const calls = serve(() => ({ status: 204 }));
    showOnDesk(<StudentsTab found={found} />, { person: TOVE });
    await rename();
    await waitFor(() => expect(calls).toHaveLength(1));
    expect(calls[0]).toMatchObject({
      method: "PATCH",
      path: "/api/classes/2/students/7",
      body: { name: "Ines Falkner" },
    });
  });

  it("stays in its field where it cannot be used, with what is wrong", async () => {
    const fields = [{ path: "name", problem: "give it a name" }];
    serve(() => ({ status: 422, body: problem(422, "No name.", { fields }) }));
    showOnDesk(<StudentsTab found={found} />, { person: TOVE });
    await rename();
    await screen.findByText("give it a name");
    expect((screen.getByLabelText("New name") as HTMLInputElement).value).toBe("Ines Falkner");
  });
});

const CLOSING = "the closing gap";
const NUT = "the gap before and after the lock nut";

describe("another stand for a sheet", () => {
  const stand = (id: number, name: string, closing: boolean) => ({
    id,
    name,
    engine_id: id,
    engine_version: 1,
    engine_name: "Engine",
    away: false,
    asks: closing ? ["nut", "closing"] : ["nut"],
    valves: [{ number: 1, cylinder: 1, role: "intake", low_mm: 0.1, high_mm: 0.2, closing }],
    key: { number: 1 },
  });

  it("asks for closing gaps where valves are pulled shut, and keeps what else was ticked", async () => {
    const stands = [stand(1, "Stand 1", false), stand(2, "Stand 2", true)];
    serve((call) => ({ body: call.path.endsWith("/stands") ? stands : [] }));
    showOnDesk(<SheetsTab classId={2} />, { person: TOVE });
    await userEvent.click(await screen.findByRole("button", { name: "Set a sheet" }));
    const choose = async (name: string) => {
      await userEvent.click(await screen.findByRole("combobox", { name: "Stand" }));
      await userEvent.click(await screen.findByTitle(`${name}, Engine`));
    };
    const box = (title: string) =>
      screen.queryByRole<HTMLInputElement>("checkbox", { name: title });
    await choose("Stand 1");
    expect(box(CLOSING)).toBeNull();
    await userEvent.click(screen.getByRole("checkbox", { name: NUT }));
    await choose("Stand 2");
    await waitFor(() => expect(box(CLOSING)?.checked).toBe(true));
    expect(box(NUT)?.checked).toBe(true);
    await choose("Stand 1");
    await waitFor(() => expect(box(CLOSING)).toBeNull());
    expect(box(NUT)?.checked).toBe(true);
  });
});
