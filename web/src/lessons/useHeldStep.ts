/** Tells the server which step is held, so that the phones of the class have where it leads. */
import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { isAway } from "../api/again";
import { type ApiProblem, api, unwrap } from "../api/client";

/** null: held with no class, or on its way. closed: students cannot open it now. */
export type OnPhones = "there" | "closed" | "away" | ApiProblem | null;

/** While the students are at their sheets, Today or the board hangs on the wall. */
const STAYS = /^\/(classes\/\d+\/today|board\/\d+)$/;

const TRY_AGAIN_MS = 2000;

export function useHeldStep(lessonId: number, place: number, classId: number | null): OnPhones {
  const latest = useRef(place);
  latest.current = place;
  const isLeft = useRef(false);
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
    retry: (_count, error) => isAway(error) && !isLeft.current,
    retryDelay: TRY_AGAIN_MS,
  });
  const { mutate } = hold;
  // biome-ignore lint/correctness/useExhaustiveDependencies: every step is told
  useEffect(() => {
    if (classId !== null) mutate();
  }, [mutate, place, classId]);
  useEffect(() => {
    if (classId === null) return;
    isLeft.current = false;
    const end = () => endLesson(classId);
    addEventListener("pagehide", end);
    return () => {
      isLeft.current = true;
      removeEventListener("pagehide", end);
      if (!STAYS.test(location.pathname)) end();
    };
  }, [classId]);
  if (hold.isSuccess) return hold.data.leads ? "there" : "closed";
  if (hold.failureCount === 0) return null;
  return isAway(hold.failureReason) ? "away" : (hold.failureReason as ApiProblem);
}

/** Nobody waits for it: where it does not arrive, the step lapses by itself. */
function endLesson(classId: number) {
  api
    .DELETE("/api/classes/{class_id}/held", {
      params: { path: { class_id: classId } },
      keepalive: true,
    })
    .catch(() => undefined);
}
