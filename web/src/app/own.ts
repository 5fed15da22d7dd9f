/**
 * What a student's device keeps of their own pages: after a reload they stand there at once, also
 * without a network, and are put right as soon as the server answers. Gone with the sign-out.
 */
import { createAsyncStoragePersister } from "@tanstack/query-async-storage-persister";
import type { Query, QueryClient } from "@tanstack/react-query";
import type { PersistQueryClientOptions } from "@tanstack/react-query-persist-client";
import { isSignedOut, type Schemas } from "../api/client";
import { keys } from "../api/keys";

const PLACE = "edrix-own";
/** As long as a sign-in lasts. */
const KEPT_MS = 12 * 3600 * 1000;

const OWN: readonly (readonly string[])[] = [
  keys.session,
  keys.myNow,
  keys.myAsked,
  keys.work,
  keys.ownRota,
  keys.classes,
  keys.sheets,
  keys.drills,
  keys.methods,
];
/** Of what is known of an engine, only what its sheets show: the cautions of this work. */
const OF_ENGINE = "cautions";

/** Some other tab signed out and took what was kept: this one keeps nothing until it is loaded. */
let isTaken = false;
window.addEventListener("storage", (event) => {
  if (event.key === PLACE && event.newValue === null) isTaken = true;
});

/** Which queries of whom are kept; the session says whose they are. */
function isOwn(queries: QueryClient, query: Query): boolean {
  if (query.state.status !== "success" || isTaken || isSignedOut()) return false;
  const session = queries.getQueryData<Schemas["Session"]>(keys.session);
  // What an instructor sees is of others; it stays on the server.
  if (!session?.person || session.person.may_teach) return false;
  const [what, , which] = query.queryKey;
  if (what === keys.eachEngine[0]) return which === OF_ENGINE;
  return OWN.some(([own]) => own === what);
}

/** Kept as long on the device as in the page. */
export function holdOwn(queries: QueryClient) {
  for (const queryKey of [...OWN, keys.eachEngine])
    queries.setQueryDefaults(queryKey, { gcTime: KEPT_MS });
}

export function keepingOwn(queries: QueryClient): Omit<PersistQueryClientOptions, "queryClient"> {
  return {
    persister: createAsyncStoragePersister({ storage: storage(), key: PLACE }),
    maxAge: KEPT_MS,
    // What another version of the application kept may have another shape.
    buster: document.querySelector<HTMLScriptElement>("script[type=module]")?.src ?? "",
    dehydrateOptions: {
      shouldDehydrateQuery: (query) => isOwn(queries, query),
      shouldDehydrateMutation: () => false,
    },
  };
}

/** How the places begin at which what a student wrote is kept until the server has it. */
export const draftsOf = (personId: number) => `edrix-draft-${personId}-`;
export const RUNS = "edrix-run-";

/** Places of what this device keeps for this person and the server does not have yet. */
export function unsentOf(personId: number): string[] {
  const begins = [draftsOf(personId), RUNS];
  return Object.keys(storage() ?? {}).filter((place) =>
    begins.some((one) => place.startsWith(one)),
  );
}

/** Whether this device knows a student's pages already. */
export function keepsOwn(): boolean {
  return storage()?.getItem(PLACE) != null;
}

export function forgetOwn(personId: number) {
  isTaken = true;
  for (const place of [PLACE, ...unsentOf(personId)]) storage()?.removeItem(place);
}

/** Whoever signs in begins to keep their own. */
export function keepAgain() {
  isTaken = false;
}

function storage(): Storage | undefined {
  try {
    return window.localStorage;
  } catch {
    return undefined;
  }
}
