/** What happened on the run so far. */
import type { Running } from "./useRun";

/** What was noticed, newest first, and what could not be done. */
export function Said({ running, turningIsOn }: { running: Running; turningIsOn: string }) {
  const { lines, problem, waiting, retry } = running;
  return (
    <section className="card said" aria-label="What happened">
      {problem && (
        <div className="notice" role="alert">
          <p>{problem}</p>
          {waiting && (
            <button type="button" className="button" onClick={retry}>
              Send it again
            </button>
          )}
        </div>
      )}
      <ol aria-live="polite" reversed>
        {lines
          .slice(-6)
          .reverse()
          .map((line) => (
            <li key={line.step}>
              <span className="figures soft">{line.step}</span>{" "}
              {line.valve !== null && <b>valve {line.valve}:</b>} {line.says}
            </li>
          ))}
        {lines.length === 0 && <li>The cover is off, and {turningIsOn}. Begin by looking.</li>}
      </ol>
    </section>
  );
}
