/** A form on two devices: the second is another browser's storage before the same server. */
import { QueryClientProvider } from "@tanstack/react-query";
import { act, renderHook, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { beforeEach, describe, expect, it } from "vitest";
import { INES, newQueries, problem, serve } from "../testing/render";
import { useLongForm } from "./useLongForm";

const FIRST: Record<string, string> = {};
const PLACE = "/api/long-forms/paper-7";
type Text = Record<string, string>;

let stored: { typed: Text | null; revision: number };
let down: boolean;
/** Whether what arrives is answered into the void. */
let losing: boolean;

beforeEach(() => {
  localStorage.clear();
  stored = { typed: null, revision: 0 };
  down = false;
  losing = false;
});

function server() {
  return serve(({ method, path, body }) => {
    if (down) return "down";
    if (path !== PLACE) return undefined;
    if (method === "DELETE") stored = { typed: null, revision: 0 };
    if (method === "PUT") {
      const put = body as { typed: Text; revision: number };
      if (put.revision !== stored.revision) return { status: 409, body: problem(409, "Quicker") };
      stored = { typed: put.typed, revision: stored.revision + 1 };
    }
    if (losing) return "down";
    return method === "DELETE" ? { status: 204 } : { body: stored };
  });
}

function device() {
  const queries = newQueries({ ...INES, may_teach: true });
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={queries}>{children}</QueryClientProvider>
  );
  return renderHook(() => useLongForm("paper-7", FIRST), { wrapper });
}

const type = (at: ReturnType<typeof device>, cell: string, text: string) =>
  act(() => at.result.current.change((before) => ({ ...before, [cell]: text })));
const wake = () => act(() => void window.dispatchEvent(new Event("focus")));

describe("a long form on several devices", () => {
  it("is gone on with where nothing of it was kept", async () => {
    server();
    const tablet = device();
    type(tablet, "a", "0.25");
    await waitFor(() => expect(stored.typed).toEqual({ a: "0.25" }), { timeout: 4000 });
    tablet.unmount();
    localStorage.clear();
    const desk = device();
    await waitFor(() => expect(desk.result.current.typed).toEqual({ a: "0.25" }));
  });

  it("takes in what the other typed, and sends its own", async () => {
    server();
    stored = { typed: { a: "1" }, revision: 1 };
    const here = device();
    await waitFor(() => expect(here.result.current.typed).toEqual({ a: "1" }));
    stored = { typed: { a: "1", theirs: "2" }, revision: 2 };
    type(here, "mine", "3");
    const all = { a: "1", theirs: "2", mine: "3" };
    await waitFor(() => expect(stored.typed).toEqual(all), { timeout: 6000 });
    expect(here.result.current.typed).toEqual(all);
  });

  it("shows both where both changed one field, and wipes neither before it is chosen", async () => {
    server();
    stored = { typed: { a: "1" }, revision: 1 };
    const here = device();
    await waitFor(() => expect(here.result.current.typed).toEqual({ a: "1" }));
    stored = { typed: { a: "2" }, revision: 2 };
    type(here, "a", "3");
    await waitFor(() => expect(here.result.current.clashes).toHaveLength(1), { timeout: 4000 });
    expect(here.result.current.typed).toEqual({ a: "3" });
    expect(stored.typed).toEqual({ a: "2" });
    const [clash] = here.result.current.clashes;
    act(() => clash && here.result.current.choose(clash, "mine"));
    await waitFor(() => expect(stored.typed).toEqual({ a: "3" }), { timeout: 4000 });
    expect(here.result.current.clashes).toEqual([]);
  });

  it("is gone on every device once it is saved on one", async () => {
    server();
    stored = { typed: { a: "1" }, revision: 3 };
    const here = device();
    await waitFor(() => expect(here.result.current.typed).toEqual({ a: "1" }));
    stored = { typed: null, revision: 0 };
    wake();
    await waitFor(() => expect(here.result.current.typed).toEqual({}));
    act(() => here.result.current.forget());
    expect(localStorage.length).toBe(0);
  });

  it("is no clash with itself where the answer was lost and it typed on", async () => {
    server();
    const here = device();
    await waitFor(() => expect(here.result.current.ready).toBe(true));
    losing = true;
    type(here, "a", "1");
    await waitFor(() => expect(stored.typed).toEqual({ a: "1" }), { timeout: 4000 });
    type(here, "a", "12");
    losing = false;
    wake();
    await waitFor(() => expect(stored.typed).toEqual({ a: "12" }), { timeout: 8000 });
    expect(here.result.current.clashes).toEqual([]);
  }, 15_000);

  it("waits on this device while there is no network", async () => {
    server();
    down = true;
    const here = device();
    await waitFor(() => expect(here.result.current.ready).toBe(true));
    type(here, "a", "1");
    here.unmount();
    down = false;
    const again = device();
    expect(again.result.current.typed).toEqual({ a: "1" });
    await waitFor(() => expect(stored.typed).toEqual({ a: "1" }), { timeout: 4000 });
  });
});
