/** Marks of one sheet with their reasons; the student's and the instructor's view share it. */
import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import { Badge } from "../app/Badge";
import { degrees } from "../app/lengths";
import { GradeCard } from "./GradeCard";
import { MARKS } from "./parts";
import "./sheets.css";

type Props = {
  result: Schemas["ResultOut"];
  valves: readonly Schemas["SheetValve"][];
  /** What an instructor may do at a valve's marks. */
  ways?: (marks: Schemas["ValveMarksOut"]) => ReactNode;
};

export function MarksList({ result, valves, ways }: Props) {
  return (
    <>
      {result.grade && <GradeCard grade={result.grade} />}
      <p className="points">
        <b>
          {result.points} <span>of {result.out_of}</span>
        </b>
        <span className="soft">
          handed in{" "}
          {new Date(result.handed_in_at).toLocaleString([], {
            dateStyle: "medium",
            timeStyle: "short",
          })}
        </span>
      </p>
      <ul className="marks">
        {result.valves.map((marks) => {
          const valve = valves.find((v) => v.number === marks.valve);
          const line = result.lines.find((l) => l.valve === marks.valve);
          const role = valve?.role ?? "intake";
          return (
            <li key={marks.valve} className={`card ${role}`}>
              <div className="line-head">
                <Badge number={marks.valve} role={role} />
                <p>
                  <b>
                    Cylinder {valve?.cylinder} {role}
                  </b>
                  <span className="figures">{line ? wrote(line) : "left blank"}</span>
                </p>
                <b className="figures">
                  {marks.points}/{MARKS.filter(({ value }) => marks[value]).length}
                </b>
              </div>
              <dl>
                {MARKS.map(({ value, label }) => {
                  const mark = marks[value];
                  return mark ? <Mark key={value} name={label} mark={mark} /> : null;
                })}
              </dl>
              {ways?.(marks)}
            </li>
          );
        })}
      </ul>
    </>
  );
}

function Mark({ name, mark }: { name: string; mark: Schemas["MarkSays"] }) {
  return (
    <div data-right={mark.right}>
      <dt>
        <span aria-hidden="true">{mark.right ? "✓" : "✗"}</span> {name}
        <span className="visually-hidden">{mark.right ? " right" : " wrong"}</span>
      </dt>
      <dd>
        {mark.says}
        {mark.answer && <span className="answered">Student's answer: {mark.answer.text}</span>}
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

function day(at: string): string {
  return new Date(at).toLocaleDateString([], { dateStyle: "medium" });
}

const WROTE = [
  ["second", "2nd pass"],
  ["set", "set to"],
  ["after", "nut tight"],
  ["shim_fitted", "shim fitted"],
  ["shim_chosen", "to fit"],
] as const;

function wrote(line: Schemas["LineOut"]): string {
  const hasUnit = /[a-z]$/i.test(line.reading);
  const reading =
    line.reading === "" ? "no reading" : `${line.reading}${hasUnit ? "" : ` ${line.unit}`}`;
  const stop = line.crank_deg === null ? "no stop" : `at ${degrees(line.crank_deg)}`;
  const verdict = line.verdict === "cannot-tell" ? "can't tell" : line.verdict;
  const further = WROTE.flatMap(([name, word]) => {
    const text = line.further[name];
    return text ? [`${word} ${text}`] : [];
  });
  return [`${reading} ${stop}, ${verdict ?? "no verdict"}`, ...further].join("; ");
}
