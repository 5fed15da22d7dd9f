/** A sheet being filled in, on one device and on two, with a network that comes and goes. */
import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import type { Schemas } from "../api/client";
import { CAUTIONS } from "../testing/fixtures";
import { serve, show } from "../testing/render";
import { blank, open, reading, SHEET, stands } from "../testing/sheet";
import SheetPage from "./SheetPage";

describe("filling in", () => {
  it("shows each valve with its spec in both units", async () => {
    open(() => undefined);
    await reading(1);
    expect(screen.getAllByText(/0\.22–0\.28 mm/)).toHaveLength(2);
    expect(screen.getAllByText(/8\.7–11 thou/)).toHaveLength(2);
    expect(screen.getByText("0 of 2")).toBeTruthy();
  });

  it("counts a valve as complete with reading, stop and verdict", async () => {
    open(() => undefined);
    await userEvent.type(await reading(2), "0,26");
    const line = within(screen.getByRole("group", { name: "Valve 2" }));
    expect(line.getByText("10.2 thou")).toBeTruthy();
    await userEvent.click(line.getByLabelText(/Stop 2/));
    expect(screen.getByText("0 of 2")).toBeTruthy();
    await userEvent.click(line.getByLabelText("Within"));
    expect(screen.getByText("1 of 2")).toBeTruthy();
  });

  it("saves the draft a moment after the last change, once", async () => {
    const calls = open(() => undefined);
    await userEvent.type(await reading(1), "0.25");
    await waitFor(() => expect(calls.some((c) => c.path.endsWith("/draft"))).toBe(true), {
      timeout: 2000,
    });
    const drafts = calls.filter((call) => call.path.endsWith("/draft"));
    expect(drafts).toHaveLength(1);
    expect(drafts[0]?.body).toEqual({
      changes: [
        { line: { ...blank, valve: 1, reading: "0.25" }, based_on: { ...blank, valve: 1 } },
      ],
    });
    await screen.findByText("Saved");
  });

  it("keeps on the device what the network would not take, and finds it again", async () => {
    open((call) => (call.path.endsWith("/draft") ? "down" : undefined));
    await userEvent.type(await reading(1), "0.31");
    await screen.findByText("Waiting for the network; kept on this device");
    expect(localStorage.getItem("edrix-draft-7-5")).toContain("0.31");
  });

  it("prefers what the device kept to an older draft of the server", async () => {
    const lines = [
      { valve: 1, reading: "0.40", unit: "mm", crank_deg: 0, verdict: null, further: {} },
    ];
    localStorage.setItem("edrix-draft-7-5", JSON.stringify({ lines, requestKey: "kept-key" }));
    open(() => undefined, {
      ...SHEET,
      draft: [{ ...SHEET.draft[0], ...lines[0], reading: "0.1" }] as never,
    });
    expect(((await reading(1)) as HTMLInputElement).value).toBe("0.40");
  });

  it("sends what was kept as soon as it can, and then forgets the copy here", async () => {
    const line = { ...blank, valve: 1, reading: "0.40", crank_deg: 0 };
    const waiting = { 1: { line, base: { ...blank, valve: 1 } } };
    localStorage.setItem("edrix-draft-7-5", JSON.stringify({ waiting, requestKey: "kept-key" }));
    const calls = open(() => undefined);
    await screen.findByText("Saved");
    expect(calls.find((call) => call.method === "PATCH")?.body).toMatchObject({
      changes: [{ line }],
    });
    // A copy that stayed would win over what is written on another device meanwhile.
    expect(localStorage.getItem("edrix-draft-7-5")).toBeNull();
  });

  it("sends the last change when the page is left before the pause is over", async () => {
    const calls = serve((call) => {
      if (call.path.endsWith("/draft")) return { body: stands(call) };
      return { body: call.path.includes("/cautions") ? CAUTIONS : SHEET };
    });
    const page = show(<SheetPage />, { path: "/sheet/5", route: "/sheet/:sheetId" });
    await userEvent.type(await reading(1), "0.3");
    page.unmount();
    await waitFor(() => {
      const sent = calls.filter((call) => call.method === "PATCH").at(-1)?.body;
      expect(sent).toMatchObject({ changes: [{ line: { reading: "0.3" } }] });
    });
  });

  it("takes another angle than the offered stops", async () => {
    const calls = open(() => undefined);
    await reading(1);
    const line = within(screen.getByRole("group", { name: "Valve 1" }));
    await userEvent.click(line.getByLabelText("Other"));
    fireEvent.change(line.getByLabelText("Crank degrees for valve 1"), {
      target: { value: "45.5" },
    });
    await waitFor(() => expect(calls.at(-1)?.path).toContain("/draft"), { timeout: 2000 });
    expect(calls.at(-1)?.body).toMatchObject({
      changes: [{ line: { valve: 1, crank_deg: 45.5 } }],
    });
  });

  it("reads a decimal comma, and keeps and marks what is no angle", async () => {
    const calls = open(() => undefined);
    await reading(1);
    const line = within(screen.getByRole("group", { name: "Valve 1" }));
    await userEvent.click(line.getByLabelText("Other"));
    const field = line.getByLabelText("Crank degrees for valve 1") as HTMLInputElement;
    await userEvent.type(field, "12,5");
    await waitFor(() => expect(calls.at(-1)?.path).toContain("/draft"), { timeout: 2000 });
    expect(calls.at(-1)?.body).toMatchObject({ changes: [{ line: { crank_deg: 12.5 } }] });
    await userEvent.type(field, "x");
    expect(line.getByText(/“12,5x” is no angle/)).toBeTruthy();
    expect(field.value).toBe("12,5x");
  });

  it("does not count a valve as complete whose figure is none", async () => {
    open(() => undefined);
    const field = await reading(1);
    const line = within(screen.getByRole("group", { name: "Valve 1" }));
    await userEvent.click(line.getByLabelText(/Stop 2/));
    await userEvent.click(line.getByLabelText("Within"));
    await userEvent.type(field, "o.25");
    expect(line.getByText("no figure yet")).toBeTruthy();
    expect(screen.getByText("0 of 2")).toBeTruthy();
  });
});

describe("one sheet on two devices", () => {
  it("brings what the other one wrote, and leaves what is being typed", async () => {
    const theirs = { ...blank, valve: 2, reading: "0.42" };
    open((call) => {
      if (!call.path.endsWith("/draft")) return undefined;
      const told = stands(call);
      return { body: { ...told, lines: [...told.lines, theirs] } };
    });
    await userEvent.type(await reading(1), "0.25");
    await waitFor(async () => expect(((await reading(2)) as HTMLInputElement).value).toBe("0.42"), {
      timeout: 2000,
    });
    expect(((await reading(1)) as HTMLInputElement).value).toBe("0.25");
  });

  it("shows both figures where they clash, and writes the one that is chosen", async () => {
    const theirs = { ...blank, valve: 1, reading: "0.19" };
    const clash = { valve: 1, field: "reading", mine: "0.25 mm", theirs: "0.19 mm" };
    let first = true;
    const calls = open((call) => {
      if (!call.path.endsWith("/draft") || !first) return undefined;
      first = false;
      return { body: { lines: [theirs], clashes: [clash] } };
    });
    await userEvent.type(await reading(1), "0.25");
    await userEvent.click(
      await screen.findByRole("button", { name: "Write 0.25 mm" }, { timeout: 2000 }),
    );
    await waitFor(
      () =>
        expect(calls.at(-1)?.body).toMatchObject({
          changes: [{ line: { reading: "0.25" }, based_on: { reading: "0.19" } }],
        }),
      { timeout: 2000 },
    );
    expect(screen.queryByRole("button", { name: "Write 0.25 mm" })).toBeNull();
  });

  it("is no clash with itself where an answer was lost and it typed on", async () => {
    let lost = true;
    const calls = open((call) => (call.path.endsWith("/draft") && lost ? "down" : undefined));
    await userEvent.type(await reading(1), "0.2");
    await waitFor(() => expect(calls.some((c) => c.path.endsWith("/draft"))).toBe(true), {
      timeout: 2000,
    });
    await userEvent.type(await reading(1), "5");
    lost = false;
    const before = calls.length;
    window.dispatchEvent(new Event("online"));
    await screen.findByText("Saved");
    const bodies = calls.slice(before).map((call) => call.body as Schemas["DraftIn"]);
    const sent = bodies.map(({ changes: [one] }) => [one?.based_on.reading, one?.line.reading]);
    // What may have arrived is sent once more as it was, and the newer figure is based on it.
    expect(sent).toEqual([
      ["", "0.2"],
      ["0.2", "0.25"],
    ]);
    expect(localStorage.getItem("edrix-draft-7-5")).toBeNull();
  });

  it("sends by itself when the network is back", async () => {
    let isDown = true;
    const calls = open((call) => (call.path.endsWith("/draft") && isDown ? "down" : undefined));
    await userEvent.type(await reading(1), "0.31");
    await screen.findByText(/Waiting for the network/, {}, { timeout: 2000 });
    isDown = false;
    const before = calls.length;
    window.dispatchEvent(new Event("online"));
    await screen.findByText("Saved");
    expect(calls.length).toBeGreaterThan(before);
    expect(localStorage.getItem("edrix-draft-7-5")).toBeNull();
  });
});
