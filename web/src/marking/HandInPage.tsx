/** One student's sheet as the instructor sees it: every figure and every reason. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useParams } from "react-router";
import { handInQuery } from "../api/queries";
import { MarksList } from "../sheets/MarksList";
import { Decide } from "./Decide";
import { Findings } from "./Findings";
import { NextKey } from "./NextKey";

export default function HandInPage() {
  const { handInId = "" } = useParams();
  const { data: handIn } = useSuspenseQuery(handInQuery(Number(handInId)));
  useEffect(() => {
    document.title = `${handIn.student} · ${handIn.sheet_title} · Edrix`;
  }, [handIn]);
  return (
    <div className="sheet">
      <div className="place-head">
        <div>
          <p>
            <Link to={`/board/${handIn.sheet_id}`}>{handIn.sheet_title}</Link>
          </p>
          <h1>{handIn.student}</h1>
          {handIn.entered_by && <p>Taken in by {handIn.entered_by}, from a file or from paper.</p>}
        </div>
        <div className="ways">
          <a className="button" href={`/api/hand-ins/${handIn.id}/sheet.pdf`}>
            Print for the student
          </a>
          <a className="button" href={`/api/hand-ins/${handIn.id}/sheet.pdf?whose=instructor`}>
            Print with the key
          </a>
          <a className="button" href={`/api/hand-ins/${handIn.id}/sheet.json`} download>
            Sheet file
          </a>
        </div>
      </div>
      <p className={handIn.record?.closed_at ? "notice calm" : "notice"}>
        {handIn.record
          ? `Isolation list ticked ${when(handIn.record.opened_at)}; ${
              handIn.record.closed_at
                ? `closing list ${when(handIn.record.closed_at)}.`
                : "the closing list is not ticked."
            }`
          : "No isolation list was ticked for this stand."}
      </p>
      <NextKey handInId={handIn.id} student={handIn.student} />
      <Findings findings={handIn.findings} />
      <MarksList
        result={handIn.result}
        valves={handIn.valves_of_engine}
        ways={(marks) => <Decide handInId={handIn.id} marks={marks} />}
      />
    </div>
  );
}

function when(at: string): string {
  return new Date(at).toLocaleString([], { dateStyle: "medium", timeStyle: "short" });
}
