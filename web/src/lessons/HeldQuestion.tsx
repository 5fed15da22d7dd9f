/** A question of a lesson: put to the class by one press, then as on the wall. */
import { useEffect, useRef } from "react";
import { sentence } from "../app/feedback";
import { useWall, type WallQuestion } from "../asking/useWall";
import { Wall } from "../asking/Wall";
import type { Held } from "./lesson";
import "../asking/wall.css";

type Props = {
  step: Held;
  engineId: number;
  classId: number;
  /** Gives what Page Down does here; it says whether it did anything. */
  taking: (take: (() => boolean) | null) => void;
};

/** Whether what is up is this step's: asked before the page was opened anew. */
function isOf(step: Held, engineId: number, up: WallQuestion | null): boolean {
  if (up === null || up.kind !== step.question || up.engine_id !== engineId) return false;
  return step.at_deg === null || up.crank_deg === step.at_deg;
}

export function HeldQuestion({ step, engineId, classId, taking }: Props) {
  const wall = useWall(classId);
  const { ask } = wall;
  const wasAsked = ask.isSuccess || isOf(step, engineId, wall.question);
  const isUp = wall.question !== null && wasAsked;
  const put = () =>
    ask.mutate({
      engine_id: engineId,
      version: null,
      kind: step.question,
      crank_deg: step.at_deg,
      seconds: step.seconds,
    });
  const wasUp = useRef(false);
  if (isUp) wasUp.current = true;
  const isDone = wasAsked || wasUp.current;
  const latest = useRef<() => boolean>(() => false);
  latest.current = () => {
    if (isUp) wall.next();
    else if (isDone) return false;
    else if (!ask.isPending) put();
    return true;
  };
  useEffect(() => {
    taking(() => latest.current());
    return () => taking(null);
  }, [taking]);
  if (isUp && wall.question) {
    return (
      <div className="asking">
        <Wall
          key={wall.question.id}
          wall={wall}
          question={wall.question}
          classId={classId}
          isHeld
        />
      </div>
    );
  }
  return (
    <div className="held-question">
      {isDone ? (
        <p className="held-do">Asked, shown and proved.</p>
      ) : (
        <button type="button" className="button main" disabled={ask.isPending} onClick={put}>
          Put it on every phone <kbd>Page Down</kbd>
        </button>
      )}
      {ask.error !== null && (
        <p className="notice" role="alert">
          {sentence(ask.error)}
        </p>
      )}
    </div>
  );
}
