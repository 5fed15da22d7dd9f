/** Thirty paper sheets in one grid: digits only, and every full cell leads to the next. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type KeyboardEvent, useEffect, useRef, useState } from "react";
import { ApiProblem, api, type Schemas, unwrap } from "../api/client";
import { Choice } from "../app/Choice";
import { Confirm } from "../app/Dialog";
import { sentence } from "../app/feedback";
import { type Unit, useUnit } from "../app/session";
import { type Cells, type Column, cellKey, columnsOf, isFull, readingOf, sheetsOf } from "./paper";
import { Taken } from "./Taken";

const UNITS = (["mm", "thou"] as const).map((value) => ({ value, label: value }));
const YES_NO = [
  { value: "no", label: "leave out" },
  { value: "yes", label: "type too" },
] as const;
const HEADS = { reading: "gap", stop: "stop", verdict: "4 5 6" };

function kept(place: string): Cells {
  try {
    return JSON.parse(localStorage.getItem(place) ?? "{}") as Cells;
  } catch {
    return {};
  }
}

function keep(place: string, cells: Cells) {
  try {
    if (Object.keys(cells).length === 0) localStorage.removeItem(place);
    else localStorage.setItem(place, JSON.stringify(cells));
  } catch {
    // A full or forbidden storage costs the copy on this device only, not what is on the screen.
  }
}

export function PaperGrid({ board }: { board: Schemas["BoardOut"] }) {
  const queries = useQueryClient();
  const place = `edrix-paper-${board.id}`;
  const [cells, setCells] = useState<Cells>(() => kept(place));
  const [unit, setUnit] = useState<Unit>(useUnit());
  const [stop, setStop] = useState<"yes" | "no">("no");
  const [verdict, setVerdict] = useState<"yes" | "no">("no");
  const [asking, setAsking] = useState(false);
  const table = useRef<HTMLTableElement>(null);
  useEffect(() => keep(place, cells), [place, cells]);
  const students = board.rows.filter((row) => row.hand_in_id === null);
  const columns = columnsOf(board.valve_numbers, stop === "yes", verdict === "yes");
  const ids = students.map((student) => student.student_id);
  const sheets = sheetsOf(cells, ids, columns, unit, board.stops);
  const take = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/sheets/{sheet_id}/paper", {
          params: { path: { sheet_id: board.id } },
          body: { sheets },
        }),
      ),
    onSuccess: () => {
      setCells({});
      queries.invalidateQueries({ queryKey: ["sheets", board.id] });
    },
    onSettled: () => setAsking(false),
  });
  const faults = new Map(
    (take.error instanceof ApiProblem ? take.error.fields : []).map((f) => [f.path, f.problem]),
  );

  function move(row: number, column: number) {
    const cell = table.current?.querySelector<HTMLInputElement>(`[data-cell="${row}-${column}"]`);
    cell?.focus();
    cell?.select();
  }
  function forward(row: number, column: number) {
    if (column + 1 < columns.length) move(row, column + 1);
    else move(row + 1, 0);
  }
  function back(row: number, column: number) {
    if (column > 0) move(row, column - 1);
    else move(row - 1, columns.length - 1);
  }
  function onKey(event: KeyboardEvent, row: number, column: number) {
    if (event.key === "Enter" || event.key === "+") forward(row, column);
    else if (event.key === "-") back(row, column);
    else if (event.key === "ArrowDown") move(row + 1, column);
    else if (event.key === "ArrowUp") move(row - 1, column);
    else return;
    event.preventDefault();
  }

  if (take.isSuccess && Object.keys(cells).length === 0) {
    return <Taken count={take.data.taken} sheetId={board.id} />;
  }
  if (students.length === 0) return <p className="notice calm">Everybody has handed in.</p>;
  return (
    <>
      <div className="paper-ways">
        <div>
          <span>Gaps are in</span>
          <Choice label="Unit of the gaps" options={UNITS} value={unit} onChoose={setUnit} />
        </div>
        <div>
          <span>Stops</span>
          <Choice label="Stops" options={YES_NO} value={stop} onChoose={setStop} />
        </div>
        <div>
          <span>Verdicts</span>
          <Choice label="Verdicts" options={YES_NO} value={verdict} onChoose={setVerdict} />
        </div>
      </div>
      <p className="soft">
        Two digits fill a gap and lead on: <b className="figures">35</b> is{" "}
        {unit === "mm" ? "0.35 mm" : "35 thou"}. <kbd>Enter</kbd> or <kbd>+</kbd> leaves a cell
        blank or as it is, <kbd>−</kbd> goes back, arrows go up and down. A verdict is 4 tight, 5
        within, 6 loose, as the keys lie. What you type is kept on this device.
      </p>
      <div className="paper-scroll">
        <table ref={table} className="paper">
          <thead>
            <tr>
              <th scope="col">Student</th>
              {columns.map((column) => (
                <th key={cellKey(0, column)} scope="col">
                  {column.field === "reading" && <b>{column.valve}</b>}
                  <span>{HEADS[column.field]}</span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {students.map((student, row) => (
              <tr key={student.student_id}>
                <th scope="row">{student.display_name}</th>
                {columns.map((column, at) => {
                  const key = cellKey(student.student_id, column);
                  const fault = faults.get(
                    `student ${student.student_id}.valve ${column.valve}.${column.field}`,
                  );
                  return (
                    <td key={key}>
                      <input
                        className="field figures"
                        inputMode="decimal"
                        autoComplete="off"
                        maxLength={12}
                        data-cell={`${row}-${at}`}
                        data-field={column.field}
                        aria-label={name(student.display_name, column)}
                        aria-invalid={fault !== undefined}
                        title={fault ?? meaning(column, cells[key] ?? "", unit)}
                        value={cells[key] ?? ""}
                        onKeyDown={(event) => onKey(event, row, at)}
                        onChange={(event) => {
                          const typed = event.target.value;
                          setCells((now) => {
                            const { [key]: _, ...others } = now;
                            return typed === "" ? others : { ...now, [key]: typed };
                          });
                          if (isFull(column, typed, board.stops.length)) forward(row, at);
                        }}
                      />
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {take.isError && (
        <p className="notice" role="alert">
          {sentence(take.error)}
        </p>
      )}
      <button
        type="button"
        className="button main"
        disabled={sheets.length === 0 || take.isPending}
        onClick={() => setAsking(true)}
      >
        Take in {sheets.length} {sheets.length === 1 ? "sheet" : "sheets"}
      </button>
      <Confirm
        open={asking}
        title={`Take in ${sheets.length} ${sheets.length === 1 ? "sheet" : "sheets"}?`}
        does="Take in and mark"
        instead="Go on typing"
        pending={take.isPending}
        onClose={() => setAsking(false)}
        onConfirm={() => take.mutate()}
      >
        <p>
          {short(sheets, columns, board.valve_numbers.length)} They are handed in for these students
          and can't be typed again.
        </p>
      </Confirm>
    </>
  );
}

function name(student: string, column: Column): string {
  const what = { reading: "Gap", stop: "Stop", verdict: "Verdict" }[column.field];
  return `${what} of valve ${column.valve}, ${student}`;
}

function meaning(column: Column, typed: string, unit: string): string | undefined {
  if (column.field !== "reading" || typed === "") return undefined;
  return `${readingOf(typed, unit)} ${unit}`;
}

/** What would count as blank. */
function short(
  sheets: Schemas["PaperSheetIn"][],
  columns: readonly Column[],
  valves: number,
): string {
  const readings = sheets.flatMap((sheet) => sheet.lines).filter((line) => line.reading !== "");
  const missing = sheets.length * valves - readings.length;
  if (missing === 0) return `All ${readings.length} gaps are typed.`;
  const blanks = missing === 1 ? "1 gap is" : `${missing} gaps are`;
  return `${blanks} blank${columns.length > valves ? "" : ", and no stops or verdicts are typed"}.`;
}
