/** Writing an engine: patterns, checks while typing, numbering by tapping, nothing lost. */
import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it } from "vitest";
import { ENGINE_FILE } from "../testing/fixtures";
import { type Call, INES, problem, serve, show } from "../testing/render";
import { placeOf } from "./Checks";
import EditorPage from "./EditorPage";

const TOVE = { ...INES, id: 1, may_teach: true };
const FINE = { faults: [], warnings: [], table: null };
const SHELF = [{ id: 4, version: 3, name: "Pump", cylinders: 2, valves: 4, firing_order: [1, 2] }];

type Own = (call: Call) => { status?: number; body?: unknown } | "down" | undefined;

function open(own: Own, path = "/engines/4/edit") {
  const calls = serve((call) => {
    const answer = own(call);
    if (answer) return answer;
    if (call.path === "/api/engine-preview") return { body: FINE };
    if (call.path === "/api/engines") return { body: SHELF };
    if (call.path.includes("/file")) return { body: ENGINE_FILE };
    if (call.path === "/api/engine-patterns") {
      return { body: [{ id: "twin", says: "Parallel twin", document: ENGINE_FILE }] };
    }
    return undefined;
  });
  const route = path === "/engines/new" ? "/engines/new" : "/engines/:engineId/edit";
  const page = show(<EditorPage />, { path, route, person: TOVE });
  return { calls, page };
}

const previews = (calls: Call[]) => calls.filter((call) => call.path === "/api/engine-preview");

beforeEach(() => localStorage.clear());

describe("the engine editor", () => {
  it("begins from a pattern, and shows each figure where the manual has it", async () => {
    open(() => undefined, "/engines/new");
    await userEvent.click(await screen.findByRole("button", { name: /Parallel twin/ }));
    expect(((await screen.findByLabelText("Firing order")) as HTMLInputElement).value).toBe("1-2");
    expect((screen.getByLabelText("Opens before TDC") as HTMLInputElement).value).toBe("12");
    expect(screen.getByText("11.8 thou")).toBeTruthy();
  });

  it("asks the core at every change, with what is typed as it is", async () => {
    const { calls } = open(() => undefined);
    await userEvent.type(await screen.findByLabelText("Clearance ramp, each side"), "x");
    await waitFor(() =>
      expect(previews(calls).at(-1)?.body).toMatchObject({ ramp_deg: "16x", name: "Pump" }),
    );
  });

  it("shows a fault at its field and in the list, and does not shelve", async () => {
    const fault = { path: "$.firing_order", problem: "cylinder 2 is missing" };
    open((call) =>
      call.path === "/api/engine-preview" ? { body: { ...FINE, faults: [fault] } } : undefined,
    );
    const field = await screen.findByLabelText("Firing order");
    await waitFor(() => expect(field.getAttribute("aria-invalid")).toBe("true"));
    const checks = within(screen.getByRole("status", { name: "Checks" }));
    expect(checks.getByText("firing order")).toBeTruthy();
    const shelve = screen.getByRole("button", { name: "Put it on the shelf" });
    expect((shelve as HTMLButtonElement).disabled).toBe(true);
  });

  it("shows what is suspicious without refusing it", async () => {
    open((call) =>
      call.path === "/api/engine-preview"
        ? { body: { ...FINE, warnings: ["The exhaust clearance is tighter than the intake's."] } }
        : undefined,
    );
    await screen.findByText(/tighter than the intake's/);
  });

  it("numbers the head by tapping, one after the other", async () => {
    const { calls } = open(() => undefined);
    await userEvent.click(await screen.findByRole("button", { name: /^valve 4,/ }));
    await userEvent.click(screen.getByRole("button", { name: /^valve 3,/ }));
    await waitFor(() => {
      const body = previews(calls).at(-1)?.body as typeof ENGINE_FILE;
      expect(body.valves.map((valve) => valve.number)).toEqual([4, 3, 2, 1]);
    });
  });

  it("lays the head out afresh for other banks, and undoes it", async () => {
    const { calls } = open(() => undefined);
    const head = await screen.findByLabelText("Valves of each cylinder");
    await userEvent.clear(head);
    await userEvent.type(head, "IE");
    await waitFor(() => {
      const body = previews(calls).at(-1)?.body as typeof ENGINE_FILE;
      expect(body.valves.map((valve) => valve.role)).toEqual([
        "intake",
        "exhaust",
        "intake",
        "exhaust",
      ]);
    });
    const undo = screen.getByRole("button", { name: "Undo" });
    while (!(undo as HTMLButtonElement).disabled) await userEvent.click(undo);
    expect((head as HTMLInputElement).value).toBe("EI IE");
  });

  it("keeps what was typed on the device, and offers to start over", async () => {
    const first = open(() => undefined);
    await userEvent.type(await screen.findByLabelText("Name"), " of the yard");
    first.page.unmount();
    open(() => undefined);
    await screen.findByText(/typed last time was kept/);
    expect((screen.getByLabelText("Name") as HTMLInputElement).value).toBe("Pump of the yard");
    await userEvent.click(screen.getByRole("button", { name: "Start over" }));
    await waitFor(() =>
      expect((screen.getByLabelText("Name") as HTMLInputElement).value).toBe("Pump"),
    );
  });

  it("keeps what was typed when the network is down", async () => {
    open((call) => (call.path === "/api/engine-preview" ? "down" : undefined));
    await userEvent.type(await screen.findByLabelText("Name"), "!");
    await screen.findByText(/cannot be reached/);
    expect((screen.getByLabelText("Name") as HTMLInputElement).value).toBe("Pump!");
  });

  it("shelves a version on the version it began from, and says when another was quicker", async () => {
    const says = "Pump is in version 4 by now; you began from version 3.";
    const { calls } = open((call) => {
      if (call.path.includes("/versions")) return { status: 409, body: problem(409, says) };
      if (call.path === "/api/engine-preview") return { body: { ...FINE, table: table() } };
      return undefined;
    });
    const shelve = await screen.findByRole("button", { name: "Put it on the shelf" });
    await waitFor(() => expect((shelve as HTMLButtonElement).disabled).toBe(false));
    await userEvent.click(shelve);
    await screen.findByText(/in version 4 by now/);
    expect(calls.at(-1)?.path ?? "").toContain("based_on=3");
  });

  it("names places as a person counts", () => {
    expect(placeOf("$.marks[1].deg")).toBe("marks 2, deg");
    expect(placeOf("$.firing_order")).toBe("firing order");
  });
});

/** The smallest table that the ribbon can draw. */
function table() {
  return {
    engine: {
      firing_order: [1],
      cylinders: [{ cylinder: 1, fire_deg: 0, companion: null }],
      banks: [[1]],
      layout: "single",
      valves: [],
      specs: [{ role: "intake", lift_mm: 8 }],
      marks: [],
    },
    roles: {},
    segments: [{ from_deg: 0, to_deg: 720, stroke: "power", overlap: false, roles: {}, signs: {} }],
    piston_mm: null,
    overlaps: [],
    events: [],
  };
}
