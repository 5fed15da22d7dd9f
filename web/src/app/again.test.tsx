/** A session that ended: whoever was at work signs in above the page, and nothing is lost. */
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import { api, signedIn, unwrap } from "../api/client";
import { INES, problem, serve, show } from "../testing/render";
import { SignInAgain } from "./SignInAgain";
import { SIGNED_IN } from "./session";

afterEach(() => signedIn());

const ended = { status: 401, body: problem(401, "You are not signed in.") };

async function work() {
  await unwrap(api.GET("/api/work")).catch(() => undefined);
}

describe("a session that ended", () => {
  it("asks for the passcode above the page, and tells what waits to go", async () => {
    const goes = vi.fn();
    window.addEventListener(SIGNED_IN, goes);
    const calls = serve((call) =>
      call.path === "/api/session" ? { body: { person: INES } } : ended,
    );
    show(
      <>
        <SignInAgain person={INES} />
        <input aria-label="note" />
      </>,
    );
    await userEvent.type(screen.getByLabelText("note"), "0.25");
    expect(screen.queryByText("Sign in again")).toBeNull();
    await work();
    await userEvent.type(await screen.findByLabelText("Passcode"), "945s-nwxp");
    await userEvent.click(screen.getByRole("button", { name: "Sign in" }));
    await waitFor(() => expect(screen.queryByText("Sign in again")).toBeNull());
    expect(calls.at(-1)?.body).toEqual({ sign_in_name: "ines.falkner", passcode: "945s-nwxp" });
    expect(goes).toHaveBeenCalledOnce();
    expect((screen.getByLabelText("note") as HTMLInputElement).value).toBe("0.25");
  });

  it("stays with a wrong passcode, and says so", async () => {
    serve((call) =>
      call.path === "/api/session"
        ? { status: 401, body: problem(401, "Sign-in name or passcode is wrong.") }
        : ended,
    );
    show(<SignInAgain person={INES} />);
    await work();
    await userEvent.type(await screen.findByLabelText("Passcode"), "wrong");
    await userEvent.click(screen.getByRole("button", { name: "Sign in" }));
    await screen.findByText("Sign-in name or passcode is wrong.");
    expect(screen.getByText("Sign in again")).toBeTruthy();
  });

  it("is not shown for a wrong passcode at signing in", async () => {
    serve(() => ({ status: 401, body: problem(401, "Wrong.") }));
    show(<SignInAgain person={INES} />);
    const body = { sign_in_name: "x", passcode: "y" };
    await unwrap(api.POST("/api/session", { body })).catch(() => undefined);
    expect(screen.queryByText("Sign in again")).toBeNull();
  });
});
