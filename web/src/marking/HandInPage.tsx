/** One student's sheet as the instructor sees it: every figure and every reason. */

import { useSuspenseQuery } from "@tanstack/react-query";
import { Alert } from "antd";
import { useState } from "react";
import { useParams } from "react-router";
import type { Schemas } from "../api/client";
import { handInQuery } from "../api/queries";
import { moment } from "../app/school";
import { Desk } from "../kit/Desk";
import { MarksList } from "../marks/MarksList";
import { Findings } from "./Findings";
import { NextKey } from "./NextKey";
import { OverrideButton, OverrideMark } from "./OverrideMark";
import "./marking.css";

type HandIn = Schemas["HandInOut"];

export default function HandInPage() {
  const { handInId = "" } = useParams();
  const { data: handIn } = useSuspenseQuery(handInQuery(Number(handInId)));
  const [overriding, setOverriding] = useState<Schemas["ValveMarksOut"] | null>(null);
  return (
    <Desk
      title={handIn.student}
      from={{ to: `/board/${handIn.sheet_id}`, title: handIn.sheet_title }}
      about={handIn.entered_by && `Taken in by ${handIn.entered_by}, from a file or from paper.`}
      ways={<Files handIn={handIn} />}
    >
      <Isolation record={handIn.record} />
      <NextKey handInId={handIn.id} student={handIn.student} />
      <Findings findings={handIn.findings} />
      <div className="hand-in-marks">
        <MarksList
          result={handIn.result}
          valves={handIn.valves_of_engine}
          columns={handIn.columns}
          ways={(marks) => <OverrideButton marks={marks} onOpen={() => setOverriding(marks)} />}
        />
      </div>
      <OverrideMark handInId={handIn.id} marks={overriding} onClose={() => setOverriding(null)} />
    </Desk>
  );
}

function Files({ handIn }: { handIn: HandIn }) {
  return (
    <>
      <a className="button" href={`/api/hand-ins/${handIn.id}/sheet.pdf`}>
        Print for the student
      </a>
      <a className="button" href={`/api/hand-ins/${handIn.id}/sheet.pdf?whose=instructor`}>
        Print with the key
      </a>
      <a className="button" href={`/api/hand-ins/${handIn.id}/sheet.json`} download>
        Sheet file
      </a>
    </>
  );
}

function Isolation({ record }: { record: HandIn["record"] }) {
  const closed = record?.closed_at;
  const says = record
    ? `Isolation list ticked ${moment(record.opened_at)}; ${
        closed ? `closing list ${moment(closed)}.` : "the closing list is not ticked."
      }`
    : "No isolation list was ticked for this stand.";
  return <Alert type={closed ? "info" : "warning"} showIcon title={says} />;
}
