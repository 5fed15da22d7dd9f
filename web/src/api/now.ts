/**
 * What is looked at again and again during a lesson: each look says how far the last one saw, and is
 * answered without a body while nothing has changed.
 */
import { queryOptions } from "@tanstack/react-query";
import { api, unwrap } from "./client";
import { keys } from "./keys";

/** Often enough for a question to be on every phone within two seconds. */
const LOOK_MS = 1500;
const NOTHING_NEW = 304;

type Looked = { cursor: string };
type Asked<T> = Promise<{ data?: T; error?: unknown; response: Response }>;

/** A query of such an answer; what it gave before stays while nothing is new. */
function looked<T extends Looked>(
  queryKey: readonly unknown[],
  ask: (after: { after?: string }) => Asked<T>,
  merge: (now: T, before: T | undefined) => T = (now) => now,
) {
  return queryOptions<T>({
    queryKey,
    queryFn: async ({ client }) => {
      const before = client.getQueryData<T>(queryKey);
      const asked = ask(before === undefined ? {} : { after: before.cursor });
      const answer = await asked.catch(() => undefined);
      if (answer?.response.status === NOTHING_NEW && before !== undefined) return before;
      const now = await unwrap(answer === undefined ? Promise.reject() : Promise.resolve(answer));
      return merge(now, before);
    },
    // It looks again soon enough by itself; a network that is away is said once it was tried.
    retry: false,
    staleTime: 0,
    refetchInterval: LOOK_MS,
  });
}

/** What a student's class asks them, wherever they are. */
export const myAskedQuery = looked(keys.myAsked, (query) =>
  api.GET("/api/my/now", { params: { query: { ...query, day: false } } }),
);

/** The same with what they are to do now. */
export const myNowQuery = looked(
  keys.myNow,
  (query) => api.GET("/api/my/now", { params: { query } }),
  // A question wakes every phone; the day that it knows already is not told again.
  (now, before) => (now.day === null && before ? { ...now, day: before.day } : now),
);

/** The hall, for the instructors of a class. */
export const classNowQuery = (classId: number) =>
  looked(keys.ofClass(classId, "now"), (query) =>
    api.GET("/api/classes/{class_id}/now", { params: { path: { class_id: classId }, query } }),
  );

/** The question that a class is asked, for the wall. */
export const wallQuery = (classId: number) =>
  looked(keys.ofClass(classId, "wall"), (query) =>
    api.GET("/api/classes/{class_id}/question", { params: { path: { class_id: classId }, query } }),
  );

export const questionKindsQuery = queryOptions({
  queryKey: keys.questionKinds,
  queryFn: () => unwrap(api.GET("/api/question-kinds")),
  staleTime: Number.POSITIVE_INFINITY,
});

/** What a class was asked, and what it mistakes most. */
export const askedQuery = (classId: number) =>
  queryOptions({
    queryKey: keys.ofClass(classId, "asked"),
    queryFn: () =>
      unwrap(
        api.GET("/api/classes/{class_id}/questions", { params: { path: { class_id: classId } } }),
      ),
  });
