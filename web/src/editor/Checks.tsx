/** What must be mended, and what is worth a second look, while the engine is typed. */
import { sentence } from "../app/feedback";
import type { Checked } from "./usePreview";

export function Checks({ checked }: { checked: Checked }) {
  const { faults, warnings, error } = checked;
  return (
    <section className="card checks" aria-label="Checks" role="status">
      {error !== null && <p className="notice">{sentence(error)}</p>}
      {faults.length === 0 && warnings.length === 0 && error === null && (
        <p className="all-well">
          <b className="mark-word">fine</b> Nothing wrong and nothing suspicious.
        </p>
      )}
      {faults.length > 0 && (
        <>
          <h2>To mend</h2>
          <ul>
            {faults.map((fault) => (
              <li key={fault.path + fault.problem}>
                <b>{placeOf(fault.path)}</b> {fault.problem}
              </li>
            ))}
          </ul>
        </>
      )}
      {warnings.length > 0 && (
        <>
          <h2>Look again</h2>
          <ul>
            {warnings.map((warning) => (
              <li key={warning}>{warning}</li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}

/** `$.marks[1].deg` as `marks 2, deg`: as a person counts. */
export function placeOf(path: string): string {
  return path
    .replace(/^\$\.?/, "")
    .replace(/\[(\d+)\]/g, (_, index) => ` ${Number(index) + 1}`)
    .replaceAll(".", ", ")
    .replaceAll("_", " ");
}
