/** Keeps a student's own answers on this device, and gives them back at the start. */
import { createAsyncStoragePersister } from "@tanstack/query-async-storage-persister";
import { hashKey, type Query, type QueryClient } from "@tanstack/react-query";
import {
  type PersistedClient,
  persistQueryClientRestore,
  persistQueryClientSubscribe,
} from "@tanstack/react-query-persist-client";
import { isAway } from "../api/again";
import { isSignedOut, type Schemas } from "../api/client";
import { keys } from "../api/keys";
import { isTaken, OWN, OWN_PLACE, storage } from "./own";

/** As long as a sign-in lasts. */
const KEPT_MS = 12 * 3600 * 1000;
/** Of what is known of an engine, only what its sheets show: the cautions of this work. */
const OF_ENGINE = "cautions";

let isBegun = false;

/** From now on. What another person left here is written over, never read. */
export function keepFromNow(queries: QueryClient) {
  if (isBegun) return;
  isBegun = true;
  // Kept as long on the device as in the page.
  for (const queryKey of [...OWN, keys.eachEngine]) {
    queries.setQueryDefaults(queryKey, { gcTime: KEPT_MS });
  }
  persistQueryClientSubscribe({ queryClient: queries, ...options(queries) });
}

/** At the start, before anything is drawn: what was kept stands there, and all of it is asked anew. */
export async function giveBack(queries: QueryClient) {
  await persistQueryClientRestore({ queryClient: queries, ...options(queries) });
  for (const queryKey of [keys.myNow, keys.myAsked]) {
    // These are asked for what is new since their cursor: now for all of it.
    queries.setQueryData<{ cursor: string }>(queryKey, (now) => now && { ...now, cursor: "" });
  }
  queries.invalidateQueries();
  keepFromNow(queries);
}

function options(queries: QueryClient) {
  return {
    persister: createAsyncStoragePersister({
      storage: storage(),
      key: OWN_PLACE,
      serialize: (client) => JSON.stringify(withOtherTabs(queries, asAnswered(client))),
    }),
    maxAge: KEPT_MS,
    // What another version of the application kept may have another shape.
    buster: document.querySelector<HTMLScriptElement>("script[type=module]")?.src ?? "",
    dehydrateOptions: {
      shouldDehydrateQuery: (query: Query) => isOwn(queries, query),
      shouldDehydrateMutation: () => false,
    },
  };
}

/** What was answered last, without what has gone wrong since. */
export function asAnswered({ clientState, ...rest }: PersistedClient): PersistedClient {
  const queries = clientState.queries.map((query) => ({
    ...query,
    state: {
      ...query.state,
      status: "success" as const,
      error: null,
      fetchFailureCount: 0,
      fetchFailureReason: null,
    },
  }));
  return { ...rest, clientState: { ...clientState, queries } };
}

/**
 * With what another tab of the same person has kept there and this one has never asked for: the
 * last tab to write must not take away what the first one has open.
 */
export function withOtherTabs(queries: QueryClient, own: PersistedClient): PersistedClient {
  const there = read(storage()?.getItem(OWN_PLACE));
  const whose = personOf(own);
  if (!there || whose === undefined || personOf(there) !== whose || there.buster !== own.buster) {
    return own;
  }
  const others = there.clientState.queries.filter(
    ({ queryHash, state }) =>
      queries.getQueryCache().get(queryHash) === undefined && isRecent(state),
  );
  const together = [...own.clientState.queries, ...others];
  return { ...own, clientState: { ...own.clientState, queries: together } };
}

/** However often it was written down since: it was answered within a sign-in's time. */
function isRecent({ dataUpdatedAt }: { dataUpdatedAt: number }): boolean {
  return dataUpdatedAt > Date.now() - KEPT_MS;
}

function read(written: string | null | undefined): PersistedClient | null {
  try {
    const found = JSON.parse(written ?? "null");
    return Array.isArray(found?.clientState?.queries) ? found : null;
  } catch {
    return null;
  }
}

function personOf({ clientState }: PersistedClient): number | undefined {
  const asked = clientState.queries.find(({ queryHash }) => queryHash === hashKey(keys.session));
  return (asked?.state.data as Schemas["Session"] | undefined)?.person?.id;
}

/**
 * Which queries of whom are kept; the session says whose they are. What cannot be asked for anew,
 * for want of a network, is kept as it was; what the server refuses is not.
 */
export function isOwn(queries: QueryClient, query: Query): boolean {
  const { data, status, error } = query.state;
  if (data === undefined || (status === "error" && !isAway(error))) return false;
  if (!isRecent(query.state) || isTaken() || isSignedOut()) return false;
  const session = queries.getQueryData<Schemas["Session"]>(keys.session);
  // What an instructor sees is of others; it stays on the server.
  if (!session?.person || session.person.may_teach) return false;
  const [what, , which] = query.queryKey;
  if (what === keys.eachEngine[0]) return which === OF_ENGINE;
  return OWN.some(([own]) => own === what);
}
