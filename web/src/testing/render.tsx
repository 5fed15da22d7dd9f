/** Renders a place as the application would: queries, an address, a signed-in person, a server. */
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, render } from "@testing-library/react";
import { type ReactNode, Suspense } from "react";
import { MemoryRouter, Route, Routes } from "react-router";
import { vi } from "vitest";
import { asksQuery, methodsQuery, sessionQuery } from "../api/queries";
import { Boundary } from "../app/Boundary";
import type { Person } from "../app/session";
import { Toolkit } from "../kit/Toolkit";
import { ASKS, METHODS } from "./fixtures";

export const INES: Person = {
  id: 7,
  sign_in_name: "ines.falkner",
  display_name: "Ines Falkner",
  may_teach: false,
  is_head: false,
  unit: "mm",
};

export type Call = { method: string; path: string; body: unknown };
type Answer = { status?: number; body?: unknown };
export type Handler = (call: Call) => Answer | "down" | undefined;

/** A stand-in for the server; gives the calls it was sent. */
export function serve(handler: Handler): Call[] {
  const calls: Call[] = [];
  vi.stubGlobal("fetch", async (request: Request) => {
    const text = await request.text();
    const { pathname, search } = new URL(request.url);
    const call = {
      method: request.method,
      path: pathname + search,
      body: bodyOf(text),
    };
    calls.push(call);
    const answer = handler(call);
    if (answer === "down") throw new TypeError("network is down");
    const { status = 200, body } = answer ?? { status: 404, body: problem(404, "Nothing here.") };
    return new Response(body === undefined ? null : JSON.stringify(body), {
      status,
      headers: { "Content-Type": "application/json" },
    });
  });
  return calls;
}

/** JSON as what it stands for; a form with a file as its text. */
function bodyOf(text: string): unknown {
  if (text === "") return null;
  return text.startsWith("--") ? text : JSON.parse(text);
}

export function problem(status: number, detail: string, more: object = {}) {
  return { status, title: "Problem", detail, fields: [], confirm: false, ...more };
}

export function newQueries(person: Person | null = INES): QueryClient {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const school = { time_zone: "UTC", language: "en" };
  queries.setQueryData(sessionQuery.queryKey, { person, school });
  queries.setQueryData(methodsQuery.queryKey, METHODS);
  queries.setQueryData(asksQuery.queryKey, ASKS);
  return queries;
}

/** A part of an instructor's place, within the toolkit as the desk would have it. */
export function showOnDesk(element: ReactNode, where: Parameters<typeof show>[1] = {}) {
  return show(<Toolkit>{element}</Toolkit>, where);
}

export function show(
  element: ReactNode,
  {
    path = "/",
    route = "/",
    person = INES,
  }: { path?: string; route?: string; person?: Person } = {},
) {
  return render(
    <QueryClientProvider client={newQueries(person)}>
      <MemoryRouter initialEntries={[path]}>
        <Boundary>
          <Suspense fallback="waiting">
            <Routes>
              <Route path={route} element={element} />
              <Route path="*" element={<p>elsewhere</p>} />
            </Routes>
          </Suspense>
        </Boundary>
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

/** The paragraph or line that says this, whose words of the trade are buttons within it. */
export function saying(text: string) {
  const lines = "p, li, dd, td";
  const says = (element: Element) => (element.textContent ?? "").includes(text);
  return (_own: string, element: Element | null) =>
    element?.matches(lines) === true &&
    says(element) &&
    ![...element.querySelectorAll(lines)].some(says);
}

/** Frames come at once, at their own time: what is still in motion comes to its end. */
export function framesAtOnce() {
  vi.stubGlobal("requestAnimationFrame", (callback: FrameRequestCallback) => {
    queueMicrotask(() => act(() => callback(performance.now())));
    return 1;
  });
}
