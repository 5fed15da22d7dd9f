/** Marks of one sheet with their reasons; the student's and the instructor's view share it. */

import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import { Badge } from "../app/Badge";
import { toldOf } from "../app/columns";
import { degrees } from "../app/lengths";
import { day, moment } from "../app/school";
import { Words } from "../app/Words";
import { GradeCard } from "./GradeCard";
import "./marks.css";

type Column = Schemas["ColumnOut"];
type Props = {
  result: Schemas["ResultOut"];
  valves: readonly Schemas["SheetValve"][];
  /** The further columns that the sheet asks for. */
  columns: readonly Column[];
  /** Read by the student whose sheet it is. */
  own?: boolean;
  /** What may be done at a valve's marks. */
  ways?: (marks: Schemas["ValveMarksOut"]) => ReactNode;
};

export function MarksList({ result, valves, columns, own = false, ways }: Props) {
  return (
    <>
      {result.grade && <GradeCard grade={result.grade} />}
      <p className="points">
        <b>
          {result.points} <span>of {result.out_of}</span>
        </b>
        <span className="soft">handed in {moment(result.handed_in_at)}</span>
      </p>
      <ul className="marks">
        {result.valves.map((marks) => (
          <ValveMarks
            key={marks.valve}
            marks={marks}
            own={own}
            valve={valves.find((valve) => valve.number === marks.valve)}
            wrote={wrote(
              result.lines.find((line) => line.valve === marks.valve),
              columns,
            )}
          >
            {ways?.(marks)}
          </ValveMarks>
        ))}
      </ul>
    </>
  );
}

type ValveProps = {
  own: boolean;
  marks: Schemas["ValveMarksOut"];
  valve: Schemas["SheetValve"] | undefined;
  wrote: string;
  children: ReactNode;
};

function ValveMarks({ marks, own, valve, wrote, children }: ValveProps) {
  const role = valve?.role ?? "intake";
  return (
    <li className={`card ${role}`}>
      <div className="line-head">
        <Badge number={marks.valve} role={role} />
        <p>
          <b>
            Cylinder {valve?.cylinder} {role}
          </b>
          <span className="figures">{wrote}</span>
        </p>
        <b className="figures">
          {marks.points}/{marks.marks.length}
        </b>
      </div>
      <dl>
        {marks.marks.map((mark) => (
          <Mark key={mark.part} mark={mark} own={own} />
        ))}
      </dl>
      {children}
    </li>
  );
}

function Mark({ mark, own }: { mark: Schemas["MarkSays"]; own: boolean }) {
  return (
    <div data-right={mark.right}>
      <dt>
        <span aria-hidden="true">{mark.right ? "✓" : "✗"}</span> {mark.label}
        <span className="visually-hidden">{mark.right ? " right" : " wrong"}</span>
      </dt>
      <dd>
        <Words text={mark.says} />
        {mark.answer && (
          <span className="answered">
            {own ? "Your" : "Student's"} answer: {mark.answer.text}
          </span>
        )}
        {mark.decided && (
          <span className="decided">
            Counted {mark.right ? "right" : "wrong"} by {mark.decided.by}, {day(mark.decided.at)}:{" "}
            {mark.decided.reason}
          </span>
        )}
      </dd>
    </div>
  );
}

function wrote(line: Schemas["TypedLine"] | undefined, columns: readonly Column[]): string {
  if (line === undefined) return "left blank";
  const hasUnit = /[a-z]$/i.test(line.reading);
  const reading =
    line.reading === "" ? "no reading" : `${line.reading}${hasUnit ? "" : ` ${line.unit}`}`;
  const stop = line.crank_deg == null ? "no stop" : `at ${degrees(line.crank_deg)}`;
  const verdict = line.verdict === "cannot-tell" ? "can't tell" : line.verdict;
  const further = columns.flatMap((column) => {
    const text = line.further?.[column.name];
    return text ? [`${column.title.toLowerCase()} ${toldOf(column, text)}`] : [];
  });
  return [`${reading} ${stop}, ${verdict ?? "no verdict"}`, ...further].join("; ");
}
