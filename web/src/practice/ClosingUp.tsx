/** Closing up, and the first start, which ends the run. */
import { type ReactNode, useState } from "react";
import { Link } from "react-router";
import { Confirm } from "../app/Dialog";
import type { Running } from "./useRun";

type ClosingUpProps = {
  running: Running;
  /** What is done with what turned the engine. */
  turningOff: string;
  late: boolean;
  children: ReactNode;
};

export function ClosingUp({ running, turningOff, late, children }: ClosingUpProps) {
  const { view, act, run } = running;
  const [asking, setAsking] = useState(false);
  if (view.started || late) {
    return (
      <section className="card closing">
        <h2>{view.started ? "The engine was started" : "The time is up"}</h2>
        {run.debriefs_open ? (
          <Link className="button main" to={`/debrief/${run.id}`}>
            See what happened, and why
          </Link>
        ) : (
          <p>This was a test: your instructor opens its debrief when everybody is through.</p>
        )}
      </section>
    );
  }
  return (
    <section className="card closing">
      <h2>Close up</h2>
      <p className="soft">
        As the list below says; the maker's manual and your instructor come first.
      </p>
      <ClosingWays running={running} turningOff={turningOff} onStart={() => setAsking(true)} />
      {children}
      <Confirm
        open={asking}
        title="Start the engine?"
        does="Start it"
        instead="Not yet"
        onClose={() => setAsking(false)}
        onConfirm={() => {
          setAsking(false);
          act({ do: "start" });
        }}
      >
        <p>The run ends with the first start; nothing can be measured or set after it.</p>
      </Confirm>
    </section>
  );
}

type WaysProps = { running: Running; turningOff: string; onStart: () => void };

function ClosingWays({ running, turningOff, onStart }: WaysProps) {
  const { view, act } = running;
  return (
    <div className="ways">
      <button type="button" className="button" onClick={() => act({ do: "count-tools" })}>
        Count leaves and tools {view.tools_counted && "✓"}
      </button>
      <button
        type="button"
        className="button"
        disabled={!view.tool_on}
        onClick={() => act({ do: "tool-off" })}
      >
        {turningOff} {!view.tool_on && "✓"}
      </button>
      <button
        type="button"
        className="button"
        onClick={() => act({ do: "cover", on: !view.closed })}
      >
        {view.closed ? "Cover off again" : "Cover on"}
      </button>
      <button type="button" className="button main" onClick={onStart}>
        First start
      </button>
    </div>
  );
}
