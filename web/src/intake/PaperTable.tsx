/**
 * The grid of paper sheets: digits only, and every full cell leads to the next. A table of our own,
 * for thirty sheets are 240 fields and more, and antd's rows draw all of them again at every digit.
 */
import { type KeyboardEvent, useRef } from "react";
import type { Schemas } from "../api/client";
import type { Unit } from "../app/session";
import { type Column, cellKey, isChoice, isFull, isGap, readingOf } from "./paper";
import type { Paper } from "./usePaper";

const HEADS = { reading: "gap", stop: "stop", verdict: "4 5 6" };
const NAMES = { reading: "Gap", stop: "Stop", verdict: "Verdict" };

function headOf(column: Column): string {
  if (column.field !== "further") return HEADS[column.field];
  const figures = column.of.options.map((_, at) => at + 1).join(" ");
  return `${column.of.title} ${figures}`.trim();
}

function nameOf(column: Column): string {
  return column.field === "further" ? column.of.title : NAMES[column.field];
}

type Props = { paper: Paper; stops: number };

export function PaperTable({ paper, stops }: Props) {
  const { columns, students } = paper;
  const { table, forward, onKey } = useCells(columns.length);
  return (
    <div className="paper-scroll">
      <table ref={table} className="paper">
        <thead>
          <tr>
            <th scope="col">Student</th>
            {columns.map((column) => (
              <th key={cellKey(0, column)} scope="col">
                {column.field === "reading" && <b>{column.valve}</b>}
                <span>{headOf(column)}</span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {students.map((student, row) => (
            <tr key={student.student_id}>
              <th scope="row">{student.display_name}</th>
              {columns.map((column, at) => (
                <td key={cellKey(student.student_id, column)}>
                  <Cell
                    student={student}
                    column={column}
                    paper={paper}
                    place={`${row}-${at}`}
                    onKey={(event) => onKey(event, row, at)}
                    onFull={(typed) => isFull(column, typed, stops) && forward(row, at)}
                  />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

type CellProps = {
  student: Schemas["BoardRowOut"];
  column: Column;
  paper: Paper;
  place: string;
  onKey: (event: KeyboardEvent) => void;
  onFull: (typed: string) => void;
};

function Cell({ student, column, paper, place, onKey, onFull }: CellProps) {
  const typed = paper.cells[cellKey(student.student_id, column)] ?? "";
  const fault = paper.faultAt(student.student_id, column);
  return (
    <input
      className="field figures"
      inputMode="decimal"
      autoComplete="off"
      maxLength={12}
      data-cell={place}
      data-field={column.field}
      aria-label={`${nameOf(column)} of valve ${column.valve}, ${student.display_name}`}
      aria-invalid={fault !== undefined}
      title={fault ?? meaning(column, typed, paper.unit)}
      value={typed}
      onKeyDown={onKey}
      onChange={({ target }) => {
        paper.type(student.student_id, column, target.value);
        onFull(target.value);
      }}
    />
  );
}

function meaning(column: Column, typed: string, unit: Unit): string | undefined {
  if (isChoice(column))
    return column.of.options.map(({ title }, at) => `${at + 1} ${title}`).join(", ");
  if (!isGap(column) || typed === "") return undefined;
  return `${readingOf(typed, unit)} ${unit}`;
}

/** Moving from cell to cell by keys. */
function useCells(columns: number) {
  const table = useRef<HTMLTableElement>(null);
  function move(row: number, column: number) {
    const cell = table.current?.querySelector<HTMLInputElement>(`[data-cell="${row}-${column}"]`);
    cell?.focus();
    cell?.select();
  }
  function forward(row: number, column: number) {
    if (column + 1 < columns) move(row, column + 1);
    else move(row + 1, 0);
  }
  function back(row: number, column: number) {
    if (column > 0) move(row, column - 1);
    else move(row - 1, columns - 1);
  }
  function onKey(event: KeyboardEvent, row: number, column: number) {
    if (event.key === "Enter" || event.key === "+") forward(row, column);
    else if (event.key === "-") back(row, column);
    else if (event.key === "ArrowDown") move(row + 1, column);
    else if (event.key === "ArrowUp") move(row - 1, column);
    else return;
    event.preventDefault();
  }
  return { table, forward, onKey };
}
