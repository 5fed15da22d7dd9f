/** What a sheet or a run comes to by its rubric: every part with its share, its weight and the arithmetic. */
import type { Schemas } from "../api/client";
import "./grade.css";

type Grade = Schemas["GradeOut"];

export function GradeCard({ grade, title }: { grade: Grade; title?: string }) {
  const whole = grade.items.reduce((sum, item) => sum + item.weight, 0);
  return (
    <section className="card grade" aria-label={title ?? "Grade"} data-passed={grade.passed}>
      <p className="grade-head">
        <b className="figures">{percent(grade.percent)}</b>
        <span>
          {grade.passed ? "passed" : "not passed"}; the pass mark is {percent(grade.pass_percent)}.
          {grade.fails.length > 0 && (
            <span className="fault"> Missing: {grade.fails.map(missing(grade)).join(", ")}.</span>
          )}
          {grade.waived.length > 0 && (
            <span>
              {" "}
              {grade.waived.join(" and ")} has a limit of its own and could not be judged here.
            </span>
          )}
        </span>
      </p>
      <details>
        <summary>How it is worked out</summary>
        <ul>
          {grade.items.map((item) => (
            <li key={item.part}>
              <b>
                {item.label}
                {item.least_percent > 0 && ` (${atLeast(item.least_percent)})`}
              </b>
              <span className="figures">
                {percent(100 * item.share)} × {item.weight}/{figure(whole)} ={" "}
                <b>{percent(item.percent)}</b>
              </span>
              <svg viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">
                <rect width="100" height="10" className="track" />
                <rect width={100 * item.share} height="10" className="filled" />
              </svg>
              <span className="soft">{item.says}</span>
            </li>
          ))}
        </ul>
      </details>
    </section>
  );
}

/** A part that fell short, with its limit where that is not all of it. */
function missing({ items }: Grade) {
  return (label: string) => {
    const least = items.find((item) => item.label === label)?.least_percent ?? 0;
    return least > 0 && least < 100 ? `${label} (${atLeast(least)})` : label;
  };
}

function atLeast(least: number): string {
  return least === 100 ? "all must be right" : `at least ${percent(least)} must be right`;
}

export function percent(value: number): string {
  return `${figure(value)} %`;
}

function figure(value: number): string {
  return String(Math.round(value * 10) / 10);
}
