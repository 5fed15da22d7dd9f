/**
 * A long form that is gone on with on another device: kept on this one at every keystroke, and on
 * the server a moment later. The server only keeps and counts; what two devices typed is put
 * together here, field by field, as it is for two tabs.
 */
import { useCallback, useEffect, useRef, useState } from "react";
import { ApiProblem, api, unwrap } from "../api/client";
import { type Clash, type Fields, merged, same, withField } from "./merging";
import { SIGNED_IN, usePerson } from "./session";
import { useKept } from "./useKept";

const SETTLE_MS = 800;
const AGAIN_MS = 5000;
/** What may have changed meanwhile: somebody comes back to the page, the network, or signs in. */
const WAKES = ["focus", "online", SIGNED_IN] as const;

/**
 * base: what this device last had from the server, of that revision. sent: what it was sent since
 * without an answer, for thin Wi-Fi may lose the answer to a form that arrived.
 */
type Kept<T> = { typed: T; base: T; revision: number; sent: T | null; clashes: Clash[] };

export type LongForm<T> = {
  typed: T;
  change: (next: T | ((before: T) => T)) => void;
  /** Once it is saved, or given up. */
  forget: () => void;
  /** Whether the server was asked, or could not be: what is shown is all there is. */
  ready: boolean;
  clashes: readonly Clash[];
  choose: (clash: Clash, whose: "mine" | "theirs") => void;
};

export function useLongForm<T extends Fields>(place: string, first: T): LongForm<T> {
  const person = usePerson();
  const [blank] = useState<Kept<T>>({
    typed: first,
    base: first,
    revision: 0,
    sent: null,
    clashes: [],
  });
  const [kept, setKept, forgetKept] = useKept(`edrix.form.${person.id}.${place}`, blank);
  const { ready, drop } = useServer(place, kept, setKept, first);
  const change = useCallback(
    (next: T | ((before: T) => T)) =>
      setKept((before) => ({
        ...before,
        typed: typeof next === "function" ? next(before.typed) : next,
      })),
    [setKept],
  );
  const forget = useCallback(() => {
    forgetKept();
    drop();
  }, [forgetKept, drop]);
  const choose = useCallback(
    (clash: Clash, whose: "mine" | "theirs") =>
      setKept((before) => ({
        ...before,
        clashes: before.clashes.filter((other) => other.field !== clash.field),
        typed: whose === "mine" ? before.typed : withField(before.typed, clash.field, clash.theirs),
      })),
    [setKept],
  );
  return { typed: kept.typed, change, forget, ready, clashes: kept.clashes, choose };
}

type Set<T> = (next: (before: Kept<T>) => Kept<T>) => void;

function useServer<T extends Fields>(place: string, kept: Kept<T>, setKept: Set<T>, first: T) {
  const [ready, setReady] = useState(false);
  const [failed, setFailed] = useState(0);
  const calls = useCalls();
  const here = useRef(kept);
  here.current = kept;

  const look = useCallback(
    () =>
      calls(async () => {
        const found = await unwrap(api.GET("/api/long-forms/{place}", at(place)));
        setKept((before) => together(before, found as Found<T>, first));
      }).finally(() => setReady(true)),
    [calls, place, setKept, first],
  );
  const send = useCallback(
    () =>
      calls(async () => {
        const { revision } = here.current;
        const typed = toSend(here.current);
        if (same(typed, here.current.base)) return;
        setKept((before) => ({ ...before, sent: typed }));
        const sent = await unwrap(
          api.PUT("/api/long-forms/{place}", { ...at(place), body: { typed, revision } }),
        );
        setKept((before) => ({
          ...before,
          base: typed,
          revision: sent.revision,
          sent: null,
        }));
        setFailed(0);
      }).then(async (error) => {
        if (error instanceof ApiProblem && error.status === 409) await look();
        else if (error !== null) setFailed((times) => times + 1);
      }),
    [calls, place, setKept, look],
  );
  const drop = useCallback(() => {
    calls(async () => {
      await unwrap(api.DELETE("/api/long-forms/{place}", at(place)));
    });
  }, [calls, place]);

  useEffect(() => {
    look();
    for (const wake of WAKES) window.addEventListener(wake, look);
    return () => {
      for (const wake of WAKES) window.removeEventListener(wake, look);
    };
  }, [look]);
  const waits = ready && !same(toSend(kept), kept.base);
  const text = waits ? JSON.stringify(kept.typed) : "";
  useEffect(() => {
    // Of what is typed now: every keystroke puts it off.
    if (text === "") return;
    const timer = setTimeout(send, failed > 0 ? AGAIN_MS : SETTLE_MS);
    return () => clearTimeout(timer);
  }, [text, send, failed]);
  return { ready, drop };
}

type Found<T> = { typed: T | null; revision: number };

/** What stands on this device with what the server has. */
function together<T extends Fields>(here: Kept<T>, found: Found<T>, first: T): Kept<T> {
  if (found.revision === here.revision) return here;
  // Saved or given up on another device: gone here too, but for what was typed since.
  const theirs = found.typed ?? first;
  // What this device sent itself is no clash with what it typed on.
  const base = here.sent !== null && same(theirs, here.sent) ? here.sent : here.base;
  const { typed, clashes } = merged(here.typed, base, theirs);
  return {
    typed,
    base: theirs,
    revision: found.revision,
    sent: null,
    clashes: found.typed === null ? [] : clashes,
  };
}

/** Where both changed a field, theirs stands on the server until the person has chosen. */
function toSend<T extends Fields>(kept: Kept<T>): T {
  return kept.clashes.reduce(
    (typed, clash) => withField(typed, clash.field, clash.theirs),
    kept.typed,
  );
}

const at = (place: string) => ({ params: { path: { place } } });

/** One call after the other, so that none overtakes; tells what went wrong, never throws. */
function useCalls() {
  const last = useRef<Promise<unknown>>(Promise.resolve());
  return useCallback((call: () => Promise<void>): Promise<unknown> => {
    const done = last.current.then(call).then(
      () => null,
      (error: unknown) => error,
    );
    last.current = done;
    return done;
  }, []);
}
