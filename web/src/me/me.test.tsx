/** A passcode of one's own: sent once, and what is wrong with it told at its field. */
import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { problem, serve, show } from "../testing/render";
import MePage from "./MePage";

async function change() {
  await userEvent.type(screen.getByLabelText("Passcode now"), "945s-nwxp");
  await userEvent.type(screen.getByLabelText("New passcode"), "seven geese");
  await userEvent.click(screen.getByRole("button", { name: "Change passcode" }));
}

describe("one's own account", () => {
  it("changes the passcode, and forgets what was typed", async () => {
    const calls = serve(() => ({ status: 204 }));
    show(<MePage />);
    expect(screen.getByRole("heading", { name: "Ines Falkner" })).toBeTruthy();
    await change();
    await screen.findByText("Changed. Use the new one from now on.");
    expect(calls.find((call) => call.method === "PUT")).toMatchObject({
      method: "PUT",
      path: "/api/me/passcode",
      body: { current: "945s-nwxp", new: "seven geese" },
    });
    expect((screen.getByLabelText("New passcode") as HTMLInputElement).value).toBe("");
  });

  it("tells what is wrong at its field, and keeps what was typed", async () => {
    const fields = [{ path: "current", problem: "is not the one that you have now" }];
    serve(() => ({ status: 422, body: problem(422, "Wrong.", { fields }) }));
    show(<MePage />);
    await change();
    await screen.findByText("This is not the one that you have now.");
    expect((screen.getByLabelText("New passcode") as HTMLInputElement).value).toBe("seven geese");
  });

  it("shows what is typed when asked", async () => {
    serve(() => undefined);
    show(<MePage />);
    const field = screen.getByLabelText("New passcode") as HTMLInputElement;
    expect(field.type).toBe("password");
    await userEvent.click(screen.getByLabelText("Show what I type"));
    expect(field.type).toBe("text");
  });
});

describe("one's own calendar", () => {
  it("has an address that is told once, and can be made anew", async () => {
    let made = 0;
    const calls = serve((call) => {
      if (call.path === "/api/my/rota") return { body: { bookings: [], feed_since: null } };
      if (call.method !== "POST") return { status: 204 };
      made += 1;
      return { status: 201, body: { address: `http://edrix/api/calendar/secret-${made}.ics` } };
    });
    show(<MePage />);
    await userEvent.click(await screen.findByRole("button", { name: "Make an address" }));
    expect(await screen.findByText(/secret-1\.ics/)).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: /address$/ }));
    expect(await screen.findByText(/secret-2\.ics/)).toBeTruthy();
    expect(screen.queryByText(/secret-1\.ics/)).toBeNull();
    expect(calls.filter((call) => call.method === "POST")).toHaveLength(2);
  });
});
