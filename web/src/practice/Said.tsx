/** What happened on the run so far, and what is asked before it goes on. */
import type { Running } from "./useRun";

/** What was noticed, newest first; a question before a mistake; what could not be done. */
export function Said({ running, turningIsOn }: { running: Running; turningIsOn: string }) {
  const { lines, problem, asked, waiting, act, retry, leave } = running;
  return (
    <section className="card said" aria-label="What happened">
      {asked && (
        <div className="notice calm" role="alert">
          <p>{asked.says}</p>
          <div className="ways">
            <button type="button" className="button main" onClick={leave}>
              I look again
            </button>
            <button type="button" className="button" onClick={() => act(asked.action, true)}>
              Do it all the same
            </button>
          </div>
        </div>
      )}
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
