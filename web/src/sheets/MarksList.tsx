/** Marks of one sheet with their reasons; the student's and the instructor's view share it. */
import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import { Badge } from "../app/Badge";
import { degrees } from "../app/lengths";
import "./sheets.css";

type Props = {
  result: Schemas["ResultOut"];
  valves: readonly Schemas["SheetValve"][];
  /** What an instructor may do at a valve's marks. */
  ways?: (marks: Schemas["ValveMarksOut"]) => ReactNode;
};

const PARTS = [
  ["reading", "Reading"],
  ["verdict", "Verdict"],
  ["position", "Position"],
] as const;

export function MarksList({ result, valves, ways }: Props) {
  return (
    <>
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
                <b className="figures">{marks.points}/3</b>
              </div>
              <dl>
                {PARTS.map(([part, name]) => (
                  <div key={part} data-right={marks[part].right}>
                    <dt>
                      <span aria-hidden="true">{marks[part].right ? "✓" : "✗"}</span> {name}
                      <span className="visually-hidden">
                        {marks[part].right ? " right" : " wrong"}
                      </span>
                    </dt>
                    <dd>
                      {marks[part].says}
                      {marks[part].decided && (
                        <span className="decided">
                          Counted {marks[part].right ? "right" : "wrong"} by{" "}
                          {marks[part].decided.by}, {day(marks[part].decided.at)}:{" "}
                          {marks[part].decided.reason}
                        </span>
                      )}
                    </dd>
                  </div>
                ))}
              </dl>
              {ways?.(marks)}
            </li>
          );
        })}
      </ul>
    </>
  );
}

function day(at: string): string {
  return new Date(at).toLocaleDateString([], { dateStyle: "medium" });
}

function wrote(line: Schemas["LineOut"]): string {
  const hasUnit = /[a-z]$/i.test(line.reading);
  const reading =
    line.reading === "" ? "no reading" : `${line.reading}${hasUnit ? "" : ` ${line.unit}`}`;
  const stop = line.crank_deg === null ? "no stop" : `at ${degrees(line.crank_deg)}`;
  return `${reading} ${stop}, ${line.verdict ?? "no verdict"}`;
}
