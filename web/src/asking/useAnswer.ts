/** A student's answer to what the class is asked: sent by itself, changed until it is closed. */
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ApiProblem, api, type Schemas, unwrap } from "../api/client";
import { myAskedQuery, myNowQuery } from "../api/now";
import { type Sending, useSender } from "../app/sender";

export type Question = Schemas["PhoneQuestion"];
type Given = { given: readonly string[]; sure: number };

/** Beside every other answer: of those that are drawn, none. */
const NONE = "none";

export function useAnswer(question: Question) {
  const queries = useQueryClient();
  const own: Given = question.own ?? { given: [], sure: 0 };
  // What was tapped and is not kept by the server yet; then what is kept there counts.
  const [tapped, setTapped] = useState<Given | null>(null);
  const [state, setState] = useState<Sending | null>(null);
  const [refusal, setRefusal] = useState<string | null>(null);
  const now = tapped ?? own;

  const sender = useSender(async () => {
    if (tapped === null || tapped.given.length === 0) return;
    try {
      const kept = await unwrap(
        api.PUT("/api/questions/{question_id}/answer", {
          params: { path: { question_id: question.id } },
          body: { given: [...tapped.given], sure: tapped.sure },
        }),
      );
      for (const { queryKey } of [myNowQuery, myAskedQuery])
        queries.setQueryData(queryKey, (before) => before && withOwn(before, kept));
      setTapped((latest) => (latest === tapped ? null : latest));
      setRefusal(null);
    } catch (error) {
      if (error instanceof ApiProblem && error.status === 409) {
        // What counts is what the server has.
        setTapped(null);
        setRefusal(error.message);
        queries.invalidateQueries({ queryKey: myAskedQuery.queryKey });
        queries.invalidateQueries({ queryKey: myNowQuery.queryKey });
      }
      throw error;
    }
  }, setState);

  function withOwn(before: Schemas["OwnNowOut"], kept: Schemas["OwnAnswerOut"]) {
    const questions = before.questions.map((one) =>
      one.id === question.id ? { ...one, own: kept } : one,
    );
    return { ...before, questions };
  }

  function give(next: Given) {
    setTapped(next);
    if (next.given.length > 0) sender.soon();
  }

  return {
    given: now.given,
    sure: now.sure,
    /** Whether the server has what is shown. */
    isKept: tapped === null && question.own !== null,
    state,
    refusal,
    choose: (id: string) => give({ ...now, given: chosen(question, now.given, id) }),
    setSure: (sure: number) => give({ ...now, sure }),
  };
}

/** What is chosen after a tap: one, or any number of valves, or none of them. */
export function chosen(
  question: Pick<Question, "several">,
  given: readonly string[],
  id: string,
): readonly string[] {
  if (!question.several) return [id];
  if (given.includes(id)) return given.filter((one) => one !== id);
  return id === NONE ? [NONE] : [...given.filter((one) => one !== NONE), id];
}
