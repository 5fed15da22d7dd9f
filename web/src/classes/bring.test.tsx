/** A class brought in from a file. */
import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it } from "vitest";
import { INES, problem, serve, show } from "../testing/render";
import { BringClass } from "./BringClass";

const TOVE = { ...INES, id: 1, display_name: "Tove", may_teach: true };
/** antd hides the file field of its button from view, and from the names of things. */
const picker = () => document.querySelector("input[type=file]") as HTMLInputElement;
const file = () => new File(["PK"], "class.zip", { type: "application/zip" });

it("leads to the class that was brought", async () => {
  const job = { id: 7, is_over: false, state: "waiting", result: {}, faults: [], says: "" };
  const done = { ...job, is_over: true, state: "done", result: { class_id: 5 } };
  const calls = serve(({ path }) =>
    path === "/api/jobs/7" ? { body: done } : { status: 202, body: job },
  );
  show(<BringClass />, { person: TOVE });
  await userEvent.upload(picker(), file());
  await screen.findByText("elsewhere");
  expect(calls[0]?.path).toBe("/api/archives/import");
  expect(calls[0]?.body).toContain("application/zip");
});

it("says what is wrong with a file, and takes another", async () => {
  serve(() => ({ status: 422, body: problem(422, "This file is no archive of a class.") }));
  show(<BringClass />, { person: TOVE });
  await userEvent.upload(picker(), file());
  await screen.findByText("This file is no archive of a class.");
  expect(screen.getByRole("button", { name: "Bring a class from a file" })).toBeTruthy();
});
