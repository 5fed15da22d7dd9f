/** After the run: how it started, why, the truth beside the notes, and the run on a time line. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useParams } from "react-router";
import { debriefQuery } from "../api/queries";
import { degrees } from "../app/lengths";
import { usePerson } from "../app/session";
import { DebriefView } from "./DebriefView";

export default function DebriefPage() {
  const { runId = "" } = useParams();
  const { data: told } = useSuspenseQuery(debriefQuery(Number(runId)));
  const person = usePerson();
  useEffect(() => {
    document.title = `${told.title} · Debrief · Edrix`;
  }, [told.title]);
  return (
    <article className="debrief">
      <div className="place-head">
        <div>
          <h1>{told.title}</h1>
          <p>
            {told.run.student}, run {told.run.attempt} · {told.run.step} steps ·{" "}
            {told.turned_deg === null ? "" : `${degrees(told.turned_deg)} turned`}
            {told.stood_h ? ` · let stand for ${told.stood_h} h` : ""}
          </p>
        </div>
        <span className="ways">
          {person.may_teach && (
            <a className="button" href={`/api/runs/${told.run.id}/run.json`} download>
              Run file
            </a>
          )}
          <Link className="button" to={person.may_teach ? "/classes" : "/work"}>
            {person.may_teach ? "Classes" : "My sheets"}
          </Link>
        </span>
      </div>
      <DebriefView
        told={told}
        heading={told.run.ended_at ? "First start" : "If it were started now"}
        grade={told.grade}
      />
    </article>
  );
}
