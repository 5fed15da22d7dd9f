/**
 * A run as the browser holds it: what is seen, what was said, and actions sent one after another.
 *
 * Every action carries a key of its own and is kept on the device until it is answered, so that a
 * lost answer, a closed browser or a dead network never makes it happen twice, or not at all.
 */
import { useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { ApiProblem, api, type Schemas, unwrap } from "../api/client";
import { runQuery } from "../api/queries";
import { sentence } from "../app/feedback";
import { newKey } from "../app/keys";

export type View = Schemas["ViewOut"];
export type Acted = Schemas["ActedOut"];
/** One of the actions that the server knows: a misspelt one does not compile. */
export type Action = Schemas["ActionIn"]["action"];
export type Line = { step: number; says: string; valve: number | null };

type Sent = { key: string; step: number; action: Action; sure: boolean };

const kept = (runId: number) => `edrix-run-${runId}`;

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
  const [waiting, setWaiting] = useState<Sent | null>(null);
  const step = useRef(run.view.step);
  const tail = useRef<Promise<unknown>>(Promise.resolve());

  const readAnew = useCallback(async () => {
    const fresh = await queries.fetchQuery({ ...runQuery(runId), staleTime: 0 });
    step.current = fresh.view.step;
    setView(fresh.view);
    setLines(fresh.events.map((event) => lineOf(event.step, event.action, event.says)));
  }, [queries, runId]);

  const send = useCallback(
    async (sent: Sent): Promise<Acted | null> => {
      localStorage.setItem(kept(runId), JSON.stringify(sent));
      try {
        const acted = await unwrap(
          api.POST("/api/runs/{run_id}/actions", {
            params: { path: { run_id: runId } },
            body: sent,
          }),
        );
        localStorage.removeItem(kept(runId));
        setWaiting(null);
        setProblem(null);
        setView(acted.view);
        step.current = acted.step;
        if (acted.asks !== null) {
          setAsked({ says: acted.asks, action: sent.action });
          return null;
        }
        setLines((before) => [...before, lineOf(acted.step, sent.action, acted.says)]);
        return acted;
      } catch (error) {
        if (error instanceof ApiProblem && error.status !== 0 && error.status < 500) {
          localStorage.removeItem(kept(runId));
          setWaiting(null);
          if (error.status === 409) await readAnew();
        } else setWaiting(sent);
        setProblem(sentence(error));
        return null;
      }
    },
    [runId, readAnew],
  );

  /** Sends an action after those before it; null where it was refused, asked about, or is lost. */
  const act = useCallback(
    (action: Action, sure = false): Promise<Acted | null> => {
      setAsked(null);
      const next = tail.current.then(() =>
        send({ key: newKey(), step: step.current, action, sure }),
      );
      tail.current = next;
      return next;
    },
    [send],
  );

  // What was under way when the browser was closed is sent again, by its own key.
  useEffect(() => {
    const left = localStorage.getItem(kept(runId));
    if (left !== null) tail.current = tail.current.then(() => send(JSON.parse(left) as Sent));
    return () => {
      queries.removeQueries({ queryKey: runQuery(runId).queryKey, exact: true });
    };
  }, [runId, send, queries]);

  return {
    run,
    view,
    lines,
    problem,
    asked,
    waiting: waiting !== null,
    act,
    retry: () => (waiting ? send(waiting) : Promise.resolve(null)),
    leave: () => setAsked(null),
  };
}

export type Running = ReturnType<typeof useRun>;
