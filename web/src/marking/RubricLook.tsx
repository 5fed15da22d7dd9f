/** What a rubric that is being typed makes of a sample sheet, and of the sheets handed in. */
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { type DataColumn, DataTable } from "../kit/DataTable";
import { GradeCard, percent } from "../marks/GradeCard";

type Look = Schemas["RubricLookOut"];
type Row = Look["rows"][number];

const COLUMNS: readonly DataColumn<Row>[] = [
  {
    title: "Student",
    show: (row) => <Link to={`/hand-in/${row.hand_in_id}`}>{row.student}</Link>,
    sort: (row) => row.student,
    find: (row) => row.student,
  },
  {
    title: "Now",
    right: true,
    show: (row) => percent(row.before_percent),
    sort: (row) => row.before_percent,
  },
  {
    title: "Then",
    right: true,
    show: (row) => percent(row.after_percent),
    sort: (row) => row.after_percent,
  },
  { title: "Change", show: changeOf, filter: (row) => changeOf(row) || "no change" },
];

export function RubricLook({ look }: { look: Look | undefined }) {
  if (look === undefined) return <div className="rubric-seen" />;
  return (
    <div className="rubric-seen" aria-live="polite">
      <div>
        <h2>A sheet with the usual mistakes</h2>
        <p className="soft">
          One reading off by one and a half tolerances, one wrong verdict, one wrong place, one
          valve left blank, the closing list not ticked, 45 minutes.
        </p>
        <GradeCard grade={look.sample} title="Grade of the sample" />
      </div>
      {look.rows.length > 0 && (
        <DataTable
          label="What it makes of the sheets handed in"
          rows={look.rows}
          keyOf={(row) => row.hand_in_id}
          columns={COLUMNS}
        />
      )}
    </div>
  );
}

function changeOf(row: Row): string {
  if (row.before_passed === row.after_passed) return "";
  return row.after_passed ? "now passes" : "now fails";
}
