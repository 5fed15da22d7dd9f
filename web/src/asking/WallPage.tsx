/** Asking a class, before a projector: what is asked, how the room answered, and the proof. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { Suspense, useEffect } from "react";
import { useParams } from "react-router";
import { classQuery } from "../api/queries";
import { Waiting } from "../app/feedback";
import { Prepare } from "./Prepare";
import { useWall } from "./useWall";
import { Wall } from "./Wall";
import "./wall.css";

export default function WallPage() {
  const { classId = "" } = useParams();
  const id = Number(classId);
  const { data: found } = useSuspenseQuery(classQuery(id));
  const wall = useWall(id);
  useEffect(() => {
    document.title = `Ask ${found.name} · Edrix`;
  }, [found]);
  return (
    <div className="asking">
      {wall.isAway && (
        <p className="notice" role="alert">
          The server cannot be reached. The question goes on without you; this page catches up.
        </p>
      )}
      {wall.question ? (
        <Suspense fallback={<Waiting />}>
          <Wall key={wall.question.id} wall={wall} question={wall.question} classId={id} />
        </Suspense>
      ) : (
        <Prepare found={found} ask={wall.ask} />
      )}
    </div>
  );
}
