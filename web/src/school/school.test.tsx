/** A head looks after the school's instructors. */
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { INES, problem, serve, show } from "../testing/render";
import SchoolPage from "./SchoolPage";

const TOVE = { ...INES, id: 1, display_name: "Tove", may_teach: true, is_head: true };
const STAFF: Schemas["InstructorOut"][] = [
  { id: 1, display_name: "Tove", sign_in_name: "tove", may_teach: true, is_head: true },
  { id: 2, display_name: "Rolf", sign_in_name: "rolf", may_teach: true, is_head: false },
];
const SHOP = { tolerance_mm: "0.020", tolerance_thou: "1.00" };

function open(answer: (path: string, method: string) => object | undefined = () => undefined) {
  const calls = serve((call) => {
    if (call.method === "GET") {
      if (call.path === "/api/shop") return { body: SHOP };
      return { body: call.path === "/api/instructors" ? STAFF : { person: TOVE, school: {} } };
    }
    return answer(call.path, call.method) ?? { status: 204 };
  });
  show(<SchoolPage />, { path: "/school", route: "/school", person: TOVE });
  return calls;
}

describe("the school's instructors", () => {
  it("get a passcode that is told once", async () => {
    const fresh = { id: 3, display_name: "Una", sign_in_name: "una", passcode: "bcdf-ghjk" };
    const calls = open(() => ({ status: 201, body: fresh }));
    await userEvent.click(await screen.findByRole("button", { name: "Add an instructor" }));
    await userEvent.type(await screen.findByLabelText("Name"), "Una");
    await userEvent.click(screen.getByRole("button", { name: "Add" }));
    const told = within(await screen.findByRole("region", { name: "Passcode" }));
    expect(told.getByText("bcdf-ghjk")).toBeTruthy();
    expect(calls.find((call) => call.method === "POST")?.body).toEqual({ name: "Una" });
    await userEvent.click(told.getByRole("button", { name: "I have it" }));
    expect(screen.queryByText("bcdf-ghjk")).toBeNull();
  });

  it("are given and lose their rights by a switch", async () => {
    const calls = open();
    await userEvent.click(await screen.findByRole("switch", { name: "Rolf teaches" }));
    await waitFor(() => expect(calls.some((call) => call.method === "PATCH")).toBe(true));
    expect(calls.find((call) => call.method === "PATCH")).toMatchObject({
      path: "/api/instructors/2",
      body: { may_teach: false },
    });
  });

  it("share one shop tolerance, which is saved as it is typed", async () => {
    const calls = open(() => ({ body: { tolerance_mm: "0.015", tolerance_thou: "1.00" } }));
    const field = await screen.findByLabelText("Shop tolerance of a figure in mm");
    expect((field as HTMLInputElement).value).toBe("0.02");
    await userEvent.clear(field);
    await userEvent.type(field, "0,015");
    await userEvent.click(screen.getByRole("button", { name: "Save tolerance" }));
    await waitFor(() => expect(calls.some((call) => call.method === "PUT")).toBe(true));
    expect(calls.find((call) => call.method === "PUT")?.body).toEqual({
      tolerance_mm: "0,015",
      tolerance_thou: "1",
    });
  });

  it("are told why the last head stays one", async () => {
    const why = "Tove is the only head; make somebody else head first.";
    open(() => ({ status: 409, body: problem(409, why) }));
    await userEvent.click(await screen.findByRole("switch", { name: "Tove is head" }));
    await screen.findByText(why);
  });
});
