/** The wall of a class that is asked: its question, how far it is, and what takes it further. */
import { useMutation, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { api, type Schemas, unwrap } from "../api/client";
import { askedQuery, wallQuery } from "../api/now";

export type WallQuestion = Schemas["WallOut"];
export type Step = Schemas["StepIn"]["to"];
/** crank_deg null: at a place by chance. */
export type NewQuestion = Omit<Schemas["QuestionIn"], "request_key" | "about">;

/** What comes after each state by one press of a clicker. */
const NEXT: Record<string, Step> = {
  open: "spread",
  closed: "spread",
  spread: "proof",
  proof: "end",
};

export function useWall(classId: number) {
  const queries = useQueryClient();
  const { data, isError } = useSuspenseQuery(wallQuery(classId));
  const shown = (now: Schemas["WallNowOut"]) => {
    queries.setQueryData(wallQuery(classId).queryKey, now);
    queries.invalidateQueries({ queryKey: askedQuery(classId).queryKey });
  };
  const step = useMutation({
    mutationFn: ({ id, to }: { id: number; to: Step }) =>
      unwrap(
        api.POST("/api/questions/{question_id}/step", {
          params: { path: { question_id: id } },
          body: { to },
        }),
      ),
    onSuccess: shown,
  });
  const ask = useAsk(classId, shown);
  const question = data.question;
  return {
    question,
    ask,
    /** The network is away: the question goes on, and the wall catches up. */
    isAway: isError,
    error: step.error,
    isStepping: step.isPending,
    to: (to: Step) => question && !step.isPending && step.mutate({ id: question.id, to }),
    next: () => {
      const to = question && NEXT[question.state];
      if (question && to && !step.isPending) step.mutate({ id: question.id, to });
    },
  };
}

/** Puts a question. Pressed again after an answer that was lost on the way, it is the same press, and
 * asks once; after one that came, or with another wish, it is a new one. */
export function useAsk(classId: number, onAsked: (now: Schemas["WallNowOut"]) => void) {
  const press = useRef({ wish: "", key: "" });
  return useMutation({
    mutationFn: (wish: NewQuestion) => {
      const told = JSON.stringify(wish);
      if (press.current.wish !== told) press.current = { wish: told, key: newPress() };
      return unwrap(
        api.POST("/api/classes/{class_id}/questions", {
          params: { path: { class_id: classId } },
          body: { ...wish, about: null, request_key: press.current.key },
        }),
      );
    },
    onSuccess: (now) => {
      press.current = { wish: "", key: "" };
      onAsked(now);
    },
  });
}

/** Names one press; not by `crypto.randomUUID`, which is missing over plain http. */
function newPress(): string {
  const random = crypto.getRandomValues(new Uint32Array(3));
  return `ask-${[...random].map((one) => one.toString(36)).join("")}`;
}
