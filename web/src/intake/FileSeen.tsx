/** How a file of readings is understood: its columns, the rows refused, and whose sheets it holds. */
import { Button, Checkbox } from "antd";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { type DataColumn, DataTable } from "../kit/DataTable";
import type { Preview } from "./useFile";

type Comer = Schemas["ComerOut"];
type Props = { seen: Preview; pending: boolean; onTake: (confirmed: boolean) => void };

const STUDENTS: readonly DataColumn<Comer>[] = [
  {
    title: "Student",
    show: (row) => row.student,
    sort: (row) => row.student,
    find: (row) => row.student,
  },
  { title: "Readings, by valve", show: (row) => <span className="figures">{row.readings}</span> },
  {
    title: "What happens",
    show: (row) => <Becomes row={row} />,
    filter: (row) => (row.left_out === null ? "taken in" : "left out"),
  },
];

export function FileSeen({ seen, pending, onTake }: Props) {
  const [sure, setSure] = useState(false);
  const asks = seen.takes > 0 && seen.doubts.length > 0;
  return (
    <>
      <section className="card seen">
        <h2>
          {seen.file_name}: {seen.rows} {isSheetFile(seen) ? "sheets" : "rows"},{" "}
          {seen.refused_rows === 0 ? "none" : seen.refused_rows} refused
        </h2>
        {seen.notes.map((note) => (
          <p key={note} className="soft">
            {note}
          </p>
        ))}
        {seen.columns.length > 0 && <Columns columns={seen.columns} />}
      </section>
      {seen.refused.length > 0 && <Refused seen={seen} />}
      <section className="card seen">
        <h2>Students in this file</h2>
        <DataTable
          label="Students in this file"
          rows={seen.students}
          keyOf={(row) => row.student_id}
          columns={STUDENTS}
        />
        {asks && <Doubts seen={seen} sure={sure} onSure={setSure} />}
        <Button
          type="primary"
          loading={pending}
          disabled={seen.takes === 0 || (asks && !sure)}
          onClick={() => onTake(sure)}
        >
          {`Take in ${seen.takes} ${seen.takes === 1 ? "sheet and mark it" : "sheets and mark them"}`}
        </Button>
        {seen.takes === 0 && (
          <p className="soft">
            Nothing in this file can be taken in as it is. Correct its rows and choose it again.
          </p>
        )}
      </section>
    </>
  );
}

type DoubtsProps = { seen: Preview; sure: boolean; onSure: (sure: boolean) => void };

/** What a student would have been asked before handing in: here the instructor answers. */
function Doubts({ seen, sure, onSure }: DoubtsProps) {
  return (
    <section className="notice" aria-label="Readings that look like slips">
      <p>
        <b>Look at these readings before they are marked.</b> If they are wrong, correct the file
        and choose it again: a column’s unit stands in its heading, like “reading (thou)”.
      </p>
      <ul className="doubts">
        {seen.doubts.map((one) => (
          <li key={`${one.who} ${one.asks}`}>
            <b>{one.who}</b> {one.asks}
          </li>
        ))}
      </ul>
      <Checkbox checked={sure} onChange={({ target }) => onSure(target.checked)}>
        These readings stand so on the paper
      </Checkbox>
    </section>
  );
}

function isSheetFile(seen: Preview): boolean {
  return seen.kind === "edrix-sheet/1";
}

function Columns({ columns }: { columns: Preview["columns"] }) {
  return (
    <ul className="columns" aria-label="How each column is understood">
      {columns.map((column, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a heading may repeat; its place does not move
        <li key={place} data-used={column.means !== null}>
          <b>{column.title || "(no title)"}</b>
          <span>
            {column.means ?? column.note}
            {column.unit && `, ${column.unit}`}
          </span>
        </li>
      ))}
    </ul>
  );
}

function Refused({ seen }: { seen: Preview }) {
  const more = seen.refused_rows - seen.refused.length;
  const columns: readonly DataColumn<Together>[] = [
    {
      title: isSheetFile(seen) ? "Sheet" : "Row",
      show: (row) => (row.from === row.to ? row.from : `${row.from}–${row.to}`),
    },
    { title: "Of", show: (row) => row.who || "–", find: (row) => row.who },
    { title: "Because it", show: (row) => row.why, find: (row) => row.why },
  ];
  return (
    <section className="card seen refused">
      <h2>Rows that are refused</h2>
      <DataTable
        label="Rows that are refused"
        rows={together(seen.refused)}
        keyOf={(row) => row.from}
        columns={columns}
      />
      {more > 0 && <p className="soft">and {more} more.</p>}
    </section>
  );
}

type Together = { from: number; to: number; who: string; why: string };

/** Rows that follow each other and are refused for the same reason, as one. */
function together(rows: Preview["refused"]): Together[] {
  const groups: Together[] = [];
  for (const { row, who, problems } of rows) {
    const last = groups.at(-1);
    const why = problems.join("; ");
    if (last && last.to === row - 1 && last.who === who && last.why === why) last.to = row;
    else groups.push({ from: row, to: row, who, why });
  }
  return groups;
}

function Becomes({ row }: { row: Comer }) {
  if (row.left_out !== null) return <span className="fault">Left out: {row.left_out}.</span>;
  if (row.missing.length === 0) return <>taken in, complete</>;
  return (
    <>
      taken in; valve{row.missing.length > 1 && "s"} {row.missing.join(", ")} left blank, which
      scores nothing
    </>
  );
}
