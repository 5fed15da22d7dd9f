/** What a device keeps of whom, and what is gone with the sign-out. */
import { dehydrate, hydrate, type Query, QueryClient } from "@tanstack/react-query";
import type { PersistedClient } from "@tanstack/react-query-persist-client";
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it } from "vitest";
import { ApiProblem } from "../api/client";
import { keys } from "../api/keys";
import { sessionQuery } from "../api/queries";
import { INES, serve, show } from "../testing/render";
import { asAnswered, isOwn, withOtherTabs } from "./keeping";
import { draftsOf, forgetOwn, keepAgain } from "./own";
import { Shell } from "./Shell";
import type { Person } from "./session";

beforeEach(keepAgain);

const school = { time_zone: "UTC", language: "en" };

function knows(person: Person | null) {
  const queries = new QueryClient();
  queries.setQueryData(sessionQuery.queryKey, { person, school });
  queries.setQueryData(keys.sheet(5), { title: "Set it right" });
  queries.setQueryData(keys.ofEngine(1, "cautions"), { lines: [] });
  queries.setQueryData(keys.ofEngine(1, "cycle"), { large: true });
  return queries;
}

function clientOf(queries: QueryClient): PersistedClient {
  const shouldDehydrateQuery = (query: Query) => isOwn(queries, query);
  const clientState = dehydrate(queries, { shouldDehydrateQuery });
  return { timestamp: Date.now(), buster: "", clientState };
}

function keptOf(queries: QueryClient) {
  return clientOf(queries).clientState.queries.map(({ queryKey }) => queryKey[0]);
}

/** The sheet is asked for anew, and this is the answer. */
async function fails(queries: QueryClient, status: number) {
  const queryFn = () => Promise.reject(new ApiProblem(status, "No."));
  await queries
    .fetchQuery({ queryKey: keys.sheet(5), queryFn, retry: false })
    .catch(() => undefined);
}

describe("what a device keeps", () => {
  it("is a student's own, and of an engine only what their sheets show", () => {
    expect(keptOf(knows(INES))).toEqual(["session", "sheets", "engine"]);
  });

  it("is nothing of an instructor, and nothing of nobody", () => {
    expect(keptOf(knows({ ...INES, may_teach: true }))).toEqual([]);
    expect(keptOf(knows(null))).toEqual([]);
  });

  it("stays while the server is away or in trouble, and goes with its refusal", async () => {
    const queries = knows(INES);
    for (const status of [0, 502, 503]) {
      await fails(queries, status);
      expect(queries.getQueryState(keys.sheet(5))?.status).toBe("error");
      expect(keptOf(queries)).toContain("sheets");
    }
    await fails(queries, 404);
    expect(keptOf(queries)).not.toContain("sheets");
  });

  it("is nothing that was answered before a sign-in's time, also where no network is", () => {
    const queries = knows(INES);
    const updatedAt = Date.now() - 13 * 3600 * 1000;
    queries.setQueryData(keys.sheet(5), { title: "Set it right" }, { updatedAt });
    expect(keptOf(queries)).toEqual(["session", "engine"]);
  });

  it("comes back as what it was, without the fault that came after it", async () => {
    const queries = knows(INES);
    await fails(queries, 0);
    const written = JSON.stringify(asAnswered(clientOf(queries)));
    expect(written).not.toContain("No.");
    const again = new QueryClient();
    hydrate(again, JSON.parse(written).clientState);
    expect(again.getQueryState(keys.sheet(5))).toMatchObject({ status: "success", error: null });
    expect(again.getQueryData(keys.sheet(5))).toEqual({ title: "Set it right" });
  });

  it("is nothing once somebody has signed out here, in this tab or in another", () => {
    forgetOwn(INES.id);
    expect(keptOf(knows(INES))).toEqual([]);
    keepAgain();
    expect(keptOf(knows(INES))).not.toEqual([]);
    window.dispatchEvent(new StorageEvent("storage", { key: "edrix-own", newValue: null }));
    expect(keptOf(knows(INES))).toEqual([]);
  });
});

describe("two tabs", () => {
  /** What this tab would write, beside what the other has written. */
  function written(other: Partial<PersistedClient> = {}, person = INES) {
    const there = clientOf(knows(person));
    localStorage.setItem("edrix-own", JSON.stringify({ ...there, ...other }));
    const queries = new QueryClient();
    queries.setQueryData(sessionQuery.queryKey, { person: INES, school });
    queries.setQueryData(keys.sheet(6), { title: "First measuring" });
    return withOtherTabs(queries, clientOf(queries)).clientState.queries.map(
      ({ state }) => (state.data as { title?: string }).title ?? "",
    );
  }

  it("keep what either has open", () => {
    expect(written()).toEqual(["", "First measuring", "Set it right", ""]);
  });

  it("keep nothing of another person, nor of another version of the application", () => {
    expect(written({}, { ...INES, id: 8 })).toEqual(["", "First measuring"]);
    expect(written({ buster: "older" })).toEqual(["", "First measuring"]);
  });

  it("keep nothing for longer than a sign-in lasts", () => {
    const there = clientOf(knows(INES));
    for (const { state } of there.clientState.queries) state.dataUpdatedAt -= 13 * 3600 * 1000;
    expect(written(there)).toEqual(["", "First measuring"]);
  });

  it.each(["no JSON", "{}", "null"])("write over what cannot be read: %s", (broken) => {
    localStorage.setItem("edrix-own", broken);
    const queries = knows(INES);
    expect(withOtherTabs(queries, clientOf(queries)).clientState.queries).toHaveLength(3);
  });

  it("do not bring back what the server has refused here", async () => {
    localStorage.setItem("edrix-own", JSON.stringify(clientOf(knows(INES))));
    const queries = knows(INES);
    await fails(queries, 404);
    const titles = withOtherTabs(queries, clientOf(queries)).clientState.queries.map(
      ({ queryKey }) => queryKey[0],
    );
    expect(titles).toEqual(["session", "engine"]);
  });
});

describe("another person at this device", () => {
  it("finds nothing of the one before", async () => {
    const queries = knows(INES);
    serve(() => ({ body: { person: { ...INES, id: 8 }, school } }));
    await queries.fetchQuery({ ...sessionQuery, staleTime: 0 });
    expect(queries.getQueryData(keys.sheet(5))).toBeUndefined();
  });
});

describe("signing out", () => {
  it("asks first where something has not reached the server, then takes it away", async () => {
    const place = `${draftsOf(INES.id)}5`;
    localStorage.setItem(place, "{}");
    const calls = serve(() => ({ status: 204 }));
    show(<Shell person={INES}>page</Shell>);
    await userEvent.click(screen.getByRole("button", { name: "Sign out" }));
    expect(calls).toHaveLength(0);
    await userEvent.click(screen.getByRole("button", { name: "Sign out and lose it" }));
    await waitFor(() => expect(localStorage.getItem(place)).toBeNull());
    expect(calls.map(({ method }) => method)).toEqual(["DELETE"]);
  });

  it("says that it could not be, where there is no network", async () => {
    serve(() => "down");
    show(<Shell person={INES}>page</Shell>);
    await userEvent.click(screen.getByRole("button", { name: "Sign out" }));
    await screen.findByText(/Signing out needs the server/);
  });
});
