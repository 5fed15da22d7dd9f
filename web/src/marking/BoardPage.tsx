/** One sheet's board for its instructor: who has handed in, with what marks. */
import { useQuery, useSuspenseQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useParams } from "react-router";
import type { Schemas } from "../api/client";
import { boardQuery, findingsQuery } from "../api/queries";
import { Empty } from "../app/feedback";
import { ListTable } from "../app/ListTable";
import { mm, thou } from "../app/lengths";
import { percent } from "../sheets/GradeCard";
import { KINDS } from "./Findings";
import { GiveBack } from "./GiveBack";
import { MarkAnew } from "./MarkAnew";
import "./marking.css";

const FILES = [
  ["grades.csv", "Grades, CSV"],
  ["marks.xlsx", "Grades and marks, XLSX"],
  ["marks.csv", "Marks with reasons, CSV"],
  ["readings.csv", "Readings, CSV"],
  ["readings.xlsx", "Readings, XLSX"],
  ["report.pdf", "Class report, PDF"],
  ["blank.pdf", "Blank sheets, PDF"],
] as const;

type Row = Schemas["BoardRowOut"];

export default function BoardPage() {
  const { sheetId = "" } = useParams();
  const { data: board } = useSuspenseQuery(boardQuery(Number(sheetId)));
  const { data: found } = useQuery(findingsQuery(board.id));
  const findings = new Map(found?.rows.map((row) => [row.hand_in_id, row.findings]));
  useEffect(() => {
    document.title = `${board.title} · Edrix`;
  }, [board]);
  const handedIn = board.rows.filter((row) => row.hand_in_id !== null);
  return (
    <div className="board">
      <div className="place-head">
        <div>
          <p>
            <Link to={`/classes/${board.class_id}/sheets`}>{board.class_name}</Link>
          </p>
          <h1>{board.title}</h1>
          <p>
            {board.engine}, {board.stand}. Readings count within{" "}
            <span className="figures">
              ±{mm(Number(board.tolerance_mm))} (±{thou(Number(board.tolerance_mm))})
            </span>
            .
          </p>
        </div>
        <div className="ways">
          <Link className="button" to={`/board/${board.id}/rubric`}>
            Rubric
          </Link>
          <Link className="button main" to={`/board/${board.id}/take-in`}>
            Take readings in
          </Link>
        </div>
      </div>
      <nav className="take-out" aria-label="Take away">
        {FILES.map(([name, label]) => (
          <a key={name} href={`/api/sheets/${board.id}/${name}`} download>
            {label}
          </a>
        ))}
      </nav>
      <p className="tally">
        <b className="figures">{handedIn.length}</b> of {board.rows.length} handed in
      </p>
      {found && found.kinds.length > 0 && (
        <p className="notice calm">
          Best explained by:{" "}
          {found.kinds.map(({ kind, students }) => `${KINDS[kind]} (${students})`).join(", ")}.
          Evidence, not a verdict: open a sheet to see the arithmetic.
        </p>
      )}
      <MarkAnew sheetId={board.id} />
      {board.waits && handedIn.length > 0 && <GiveBack sheetId={board.id} />}
      {board.rows.length === 0 ? (
        <Empty title="Nobody is in this class yet">
          <Link to={`/classes/${board.class_id}/students`}>Add its students</Link>
        </Empty>
      ) : (
        <ListTable
          label="Students and their sheets"
          rows={board.rows}
          keyOf={(row) => row.student_id}
          columns={[
            { title: "Student", show: (row) => row.display_name },
            { title: "State", show: (row) => <State row={row} valves={board.valves} /> },
            { title: "Points", show: (row) => <Points row={row} /> },
            { title: "Grade", show: (row) => <Percent row={row} /> },
            {
              title: "Findings",
              show: (row) => <Kinds findings={findings.get(row.hand_in_id ?? 0) ?? []} />,
            },
            {
              title: "Sheet",
              right: true,
              show: (row) =>
                row.hand_in_id && (
                  <Link className="button" to={`/hand-in/${row.hand_in_id}`}>
                    {row.open_answers > 0 ? `Open, ${row.open_answers} answered` : "Open"}
                    <span className="visually-hidden"> sheet of {row.display_name}</span>
                  </Link>
                ),
            },
          ]}
        />
      )}
    </div>
  );
}

function State({ row, valves }: { row: Row; valves: number }) {
  if (row.handed_in_at) {
    const when = new Date(row.handed_in_at);
    return <>handed in {when.toLocaleString([], { dateStyle: "medium", timeStyle: "short" })}</>;
  }
  if (row.lines_begun > 0) {
    return (
      <>
        measuring, {row.lines_begun} of {valves} valves
      </>
    );
  }
  return <span className="soft">not begun</span>;
}

function Kinds({ findings }: { findings: Schemas["FindingOut"][] }) {
  return (
    <ul className="kinds">
      {findings.map((finding) => (
        <li key={`${finding.kind}${finding.valves.join()}${finding.with_hand_in}`}>
          {KINDS[finding.kind]}
        </li>
      ))}
    </ul>
  );
}

function Percent({ row }: { row: Row }) {
  if (row.percent === null) return <span className="soft">–</span>;
  return (
    <span className="figures" data-passed={row.passed}>
      {percent(row.percent)} {row.passed ? "✓" : <b className="fault">not passed</b>}
    </span>
  );
}

function Points({ row }: { row: Row }) {
  if (row.points === null || row.out_of === null) return <span className="soft">–</span>;
  return (
    <div className="points-bar">
      <span className="figures">
        {row.points}/{row.out_of}
      </span>
      <svg viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">
        <rect width="100" height="10" className="track" />
        <rect width={(100 * row.points) / row.out_of} height="10" className="filled" />
      </svg>
    </div>
  );
}
