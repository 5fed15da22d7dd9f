/** One sheet's board for its instructor: who has handed in, with what marks. */

import { useSuspenseQueries } from "@tanstack/react-query";
import { Alert } from "antd";
import { useMemo } from "react";
import { Link, useParams } from "react-router";
import type { Schemas } from "../api/client";
import { boardQuery, findingsQuery, remarkQuery } from "../api/queries";
import { mm, thou } from "../app/lengths";
import { moment } from "../app/school";
import { type DataColumn, DataTable } from "../kit/DataTable";
import { Desk } from "../kit/Desk";
import { percent } from "../marks/GradeCard";
import { GiveBack } from "./GiveBack";
import { KeyDoubts } from "./KeyDoubts";
import { ReMark } from "./ReMark";
import "./marking.css";
import "./findings.css";

const FILES = [
  ["grades.csv", "Grades, CSV"],
  ["marks.xlsx", "Grades and marks, XLSX"],
  ["marks.csv", "Marks with reasons, CSV"],
  ["readings.csv", "Readings, CSV"],
  ["readings.xlsx", "Readings, XLSX"],
  ["report.pdf", "Class report, PDF"],
  ["blank.pdf", "Blank sheets, PDF"],
] as const;

type Board = Schemas["BoardOut"];
type Found = Schemas["FindingOut"];
type Row = Schemas["BoardRowOut"] & { findings: readonly Found[] };

export default function BoardPage() {
  const { sheetId = "" } = useParams();
  const id = Number(sheetId);
  // All that stands above the rows is waited for, at once: rows must not move under a finger.
  const [{ data: board }, { data: found }] = useSuspenseQueries({
    queries: [boardQuery(id), findingsQuery(id), remarkQuery(id)],
  });
  const rows = useMemo(() => withFindings(board, found), [board, found]);
  const columns = useMemo(() => columnsOf(board.valves), [board.valves]);
  const handedIn = rows.filter((row) => row.hand_in_id !== null);
  return (
    <Desk
      title={board.title}
      from={{ to: `/classes/${board.class_id}/sheets`, title: board.class_name }}
      about={<About board={board} />}
      ways={
        <>
          <Link className="button" to={`/board/${board.id}/class`}>
            Class at a glance
          </Link>
          <Link className="button" to={`/board/${board.id}/rubric`}>
            Rubric
          </Link>
          <Link className="button main" to={`/board/${board.id}/take-in`}>
            Take readings in
          </Link>
        </>
      }
    >
      <Files board={board} />
      <p className="board-tally">
        <b className="figures">{handedIn.length}</b> of {rows.length} handed in
      </p>
      {board.stale !== "" && <Alert type="warning" showIcon title={board.stale} />}
      <KeyDoubts doubts={found.doubts} />
      <Explained kinds={found.kinds} />
      <ReMark sheetId={board.id} />
      {board.waits && handedIn.length > 0 && <GiveBack sheetId={board.id} />}
      <DataTable
        label="Students and their sheets"
        rows={rows}
        keyOf={(row) => row.student_id}
        columns={columns}
        empty={
          <>
            Nobody is in this class yet.{" "}
            <Link to={`/classes/${board.class_id}/students`}>Add its students</Link>
          </>
        }
      />
    </Desk>
  );
}

function withFindings(board: Board, found: Schemas["FindingsOut"]): Row[] {
  const findings = new Map(found.rows.map((row) => [row.hand_in_id, row.findings]));
  return board.rows.map((row) => ({ ...row, findings: findings.get(row.hand_in_id ?? 0) ?? [] }));
}

function columnsOf(valves: number): readonly DataColumn<Row>[] {
  return [
    {
      title: "Student",
      show: (row) => row.display_name,
      sort: (row) => row.display_name,
      find: (row) => row.display_name,
    },
    {
      title: "Status",
      show: (row) => <Status row={row} valves={valves} />,
      sort: (row) => row.handed_in_at ?? null,
      filter: statusOf,
    },
    { title: "Points", show: (row) => <Points row={row} />, sort: (row) => row.points },
    { title: "Grade", show: (row) => <Percent row={row} />, sort: (row) => row.percent },
    {
      title: "Findings",
      show: (row) => <Kinds findings={row.findings} />,
      sort: (row) => -row.findings.length,
      find: (row) => row.findings.map(({ label }) => label).join(" "),
    },
    { title: "Sheet", right: true, show: (row) => <Open row={row} /> },
  ];
}

function About({ board }: { board: Board }) {
  return (
    <>
      {board.engine}, {board.stand}. Readings count within{" "}
      <span className="figures">
        ±{mm(Number(board.tolerance_mm))} (±{thou(Number(board.tolerance_mm))})
      </span>
      .
    </>
  );
}

function Files({ board }: { board: Board }) {
  return (
    <nav className="take-out" aria-label="Download">
      {FILES.map(([name, label]) => (
        <a key={name} href={`/api/sheets/${board.id}/${name}`} download>
          {label}
        </a>
      ))}
    </nav>
  );
}

function Explained({ kinds }: { kinds: Schemas["FindingsOut"]["kinds"] }) {
  if (kinds.length === 0) return null;
  return (
    <Alert
      type="info"
      title={`Best explained by: ${kinds
        .map(({ label, students }) => `${label} (${students})`)
        .join(", ")}.`}
      description="Evidence, not a verdict: open a sheet to see the arithmetic."
    />
  );
}

function Open({ row }: { row: Row }) {
  if (!row.hand_in_id) return null;
  return (
    <Link className="button" to={`/hand-in/${row.hand_in_id}`}>
      {row.open_answers > 0 ? `Open, ${row.open_answers} answered` : "Open"}
      <span className="visually-hidden"> sheet of {row.display_name}</span>
    </Link>
  );
}

function statusOf(row: Row): string {
  if (row.handed_in_at) return "handed in";
  return row.lines_begun > 0 ? "measuring" : "not begun";
}

function Status({ row, valves }: { row: Row; valves: number }) {
  if (row.handed_in_at) {
    return <>handed in {moment(row.handed_in_at)}</>;
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

function Kinds({ findings }: { findings: readonly Found[] }) {
  return (
    <ul className="kinds">
      {findings.map((finding) => (
        <li key={`${finding.kind}${finding.valves.join()}${finding.with_hand_in}`}>
          {finding.label}
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
