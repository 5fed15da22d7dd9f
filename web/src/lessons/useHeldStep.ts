/** Tells the server which step is held, so that the phones of the class have where it leads. */
import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { ApiProblem, api, unwrap } from "../api/client";

export type OnPhones = "no" | "sending" | "there" | "away";

/** While the students are at their sheets, Today or the board hangs on the wall. */
const STAYS = /^\/(classes\/\d+\/today|board\/\d+)$/;

const TRY_AGAIN_MS = 2000;

export function useHeldStep(lessonId: number, place: number, classId: number | null): OnPhones {
  const latest = useRef(place);
  latest.current = place;
  const hold = useMutation({
    // Tried again, it tells where the lesson is by then.
    mutationFn: () =>
      unwrap(
        api.PUT("/api/classes/{class_id}/held", {
          params: { path: { class_id: classId ?? 0 } },
          body: { lesson_id: lessonId, step: latest.current },
        }),
      ),
    // A clicker is quicker than thin Wi-Fi: steps are told one after the other, the last one counts.
    scope: { id: "held step" },
    retry: (_count, error) => isAway(error),
    retryDelay: TRY_AGAIN_MS,
  });
  const { mutate } = hold;
  useEffect(() => {
    if (classId !== null && place > 0) mutate();
  }, [mutate, place, classId]);
  useEffect(() => {
    if (classId === null) return;
    const end = () => endLesson(classId);
    addEventListener("pagehide", end);
    return () => {
      removeEventListener("pagehide", end);
      if (!STAYS.test(location.pathname)) end();
    };
  }, [classId]);
  if (classId === null) return "no";
  if (hold.isSuccess) return "there";
  return hold.failureCount > 0 || hold.isError ? "away" : "sending";
}

const isAway = (error: unknown) => error instanceof ApiProblem && [0, 503].includes(error.status);

/** Nobody waits for it: where it does not arrive, the step lapses by itself. */
function endLesson(classId: number) {
  api
    .DELETE("/api/classes/{class_id}/held", {
      params: { path: { class_id: classId } },
      keepalive: true,
    })
    .catch(() => undefined);
}
