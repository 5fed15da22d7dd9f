/**
 * A run as the browser holds it: what is seen, what was said, and actions sent one after another.
 *
 * Every action carries a key of its own and is kept on the device until it is answered, so that a
 * lost answer, a closed browser or a dead network never makes it happen twice, or not at all.
 */
import { useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { isAway } from "../api/again";
import { ApiProblem, api, type Schemas, unwrap } from "../api/client";
import { runQuery } from "../api/queries";
import { sentence } from "../app/feedback";
import { newKey } from "../app/keys";
import { RUNS } from "../app/own";
import { useSender } from "../app/sender";

export type View = Schemas["ViewOut"];
export type Acted = Schemas["ActedOut"];
/** One of the actions that the server knows: a misspelt one does not compile. */
export type Action = Schemas["ActionIn"]["action"];
export type Line = { step: number; says: string; valve: number | null };

type Sent = { key: string; step: number; action: Action; sure: boolean };
/** Its step is that at which it is first sent; null while it waits behind another one. */
type Kept = Omit<Sent, "step"> & { step: number | null };
type Waiting = Kept & { answer: (acted: Acted | null) => void };

const placeOf = (runId: number) => `${RUNS}${runId}`;

/** What was under way, and what waited behind it, when the browser was closed. */
function left(runId: number): Kept[] {
  try {
    const found = JSON.parse(localStorage.getItem(placeOf(runId)) ?? "[]");
    // An earlier version kept one action at a time.
    return Array.isArray(found) ? found : [found];
  } catch {
    return [];
  }
}

function keep(runId: number, queue: readonly Waiting[]) {
  try {
    const kept: Kept[] = queue.map(({ answer: _, ...one }) => one);
    if (kept.length === 0) localStorage.removeItem(placeOf(runId));
    else localStorage.setItem(placeOf(runId), JSON.stringify(kept));
  } catch {
    // A full or forbidden storage must not stop a run: it only forgets with the page.
  }
}

function lineOf(step: number, action: Action, says: string): Line {
  return { step, says, valve: "valve" in action ? action.valve : null };
}

export function useRun(runId: number) {
  const queries = useQueryClient();
  const { data: run } = useSuspenseQuery(runQuery(runId));
  const [view, setView] = useState<View>(run.view);
  const [lines, setLines] = useState<Line[]>(() =>
    run.events.map((event) => lineOf(event.step, event.action, event.says)),
  );
  const [problem, setProblem] = useState<string | null>(null);
  const [asked, setAsked] = useState<{ says: string; action: Action } | null>(null);
  const [isWaiting, setIsWaiting] = useState(false);
  /** Whoever waits for an action that is asked about: answered once it is done, or left. */
  const pending = useRef<((acted: Acted | null) => void) | null>(null);
  const step = useRef(run.view.step);
  const queue = useRef<Waiting[]>([]);

  const readAnew = useCallback(async () => {
    const fresh = await queries.fetchQuery({ ...runQuery(runId), staleTime: 0 });
    step.current = fresh.view.step;
    setView(fresh.view);
    setLines(fresh.events.map((event) => lineOf(event.step, event.action, event.says)));
  }, [queries, runId]);

  /** Sends what waits, oldest first. Throws where it cannot go now: then all of it waits on. */
  const drain = useCallback(async () => {
    for (let first = queue.current[0]; first; first = queue.current[0]) {
      first.step ??= step.current;
      keep(runId, queue.current);
      const { answer, ...sent } = first;
      try {
        const acted = await unwrap(
          api.POST("/api/runs/{run_id}/actions", {
            params: { path: { run_id: runId } },
            body: sent as Sent,
          }),
        );
        queue.current.shift();
        setProblem(null);
        setView(acted.view);
        step.current = acted.step;
        if (acted.asks === null) {
          setLines((before) => [...before, lineOf(acted.step, sent.action, acted.says)]);
          answer(acted);
          keep(runId, queue.current);
          continue;
        }
        setAsked({ says: acted.asks, action: sent.action });
        pending.current = answer;
      } catch (error) {
        setProblem(sentence(error));
        if (isAway(error)) throw error;
        queue.current.shift();
        answer(null);
        if (error instanceof ApiProblem && error.status === 409) await readAnew();
      }
      // What waited behind it was meant for after it.
      for (const one of queue.current.splice(0)) one.answer(null);
      keep(runId, queue.current);
    }
  }, [runId, readAnew]);
  const sender = useSender(drain, (state) => setIsWaiting(state === "waiting"));

  /** Sends an action after those before it; null where it was refused, asked about, or dropped. */
  const act = useCallback(
    (action: Action, sure = false): Promise<Acted | null> => {
      setAsked(null);
      const waits = pending.current;
      pending.current = null;
      if (!sure) waits?.(null);
      return new Promise((told) => {
        const answer = (acted: Acted | null) => {
          if (sure) waits?.(acted);
          told(acted);
        };
        queue.current.push({ key: newKey(), step: null, action, sure, answer });
        keep(runId, queue.current);
        sender.now();
      });
    },
    [runId, sender],
  );

  // What was under way when the browser was closed is sent again, by its own key.
  useEffect(() => {
    const found = left(runId);
    if (found.length > 0 && queue.current.length === 0) {
      queue.current.unshift(...found.map((one) => ({ ...one, answer: () => undefined })));
      sender.now();
    }
    return () => {
      queries.removeQueries({ queryKey: runQuery(runId).queryKey, exact: true });
    };
  }, [runId, sender, queries]);

  return {
    run,
    view,
    lines,
    problem,
    asked,
    waiting: isWaiting,
    act,
    retry: () => sender.now(),
    leave: () => {
      setAsked(null);
      pending.current?.(null);
      pending.current = null;
    },
  };
}

export type Running = ReturnType<typeof useRun>;
