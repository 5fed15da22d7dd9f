/** What a rubric that is being typed makes of a sample, and of what there is already. */
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { type DataColumn, DataTable } from "../kit/DataTable";
import { GradeCard, percent } from "../marks/GradeCard";

type Row = {
  key: number;
  /** Where what was graded is read. */
  to: string;
  student: string;
  before_percent: number;
  after_percent: number;
  before_passed: boolean;
  after_passed: boolean;
};
/** What a rubric makes of a sample, and of everything there is already. */
export type Looked = {
  title: string;
  about: string;
  sample: Schemas["GradeOut"];
  label: string;
  rows: readonly Row[];
};

const COLUMNS: readonly DataColumn<Row>[] = [
  {
    title: "Student",
    show: (row) => <Link to={row.to}>{row.student}</Link>,
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

export function RubricLook({ looked }: { looked: Looked | undefined }) {
  if (looked === undefined) return <div className="rubric-seen" />;
  return (
    <div className="rubric-seen" aria-live="polite">
      <div>
        <h2>{looked.title}</h2>
        <p className="soft">{looked.about}</p>
        <GradeCard grade={looked.sample} title="Grade of the sample" />
      </div>
      {looked.rows.length > 0 && (
        <DataTable
          label={looked.label}
          rows={looked.rows}
          keyOf={(row) => row.key}
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
