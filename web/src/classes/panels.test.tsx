/** Forms that slide in: what was typed is not lost by a slip, and what was discarded is gone. */
import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { INES, serve, showOnDesk } from "../testing/render";
import { SheetsTab } from "./SheetsTab";
import { StudentsTab } from "./StudentsTab";

const TOVE = { ...INES, id: 1, display_name: "Tove", may_teach: true };
const FOUND = { id: 2, name: "Class A", students: [] };

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
