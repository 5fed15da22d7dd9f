/** Turning as people do: by degrees, to the next mark, event or stop, and rocking. */
import type { RefObject } from "react";
import { degrees } from "../app/lengths";
import { type Crank, useTold } from "./crank";
import { normalise, type Table } from "./lookup";
import { eventAngles, eventsAt, markAngles, nextOf } from "./turning";
import "./turn-bar.css";

type Props = {
  table: Table;
  crank: Crank;
  stops: RefObject<number[]>;
  rocking: boolean;
  /** Events would tell the stroke. */
  strokeHidden: boolean;
  onRock: () => void;
  onReal: () => void;
};

export function TurnBar({ table, crank, stops, rocking, strokeHidden, onRock, onReal }: Props) {
  const real = useTold(crank, () => String(crank.isReal)) === "true";
  const to = (anglesDeg: readonly number[], direction: 1 | -1) => {
    const deg = nextOf(anglesDeg, crank.deg, direction);
    if (deg !== undefined) crank.set(deg);
  };
  // A cam mark would tell which of the two turns it is.
  const marks = { name: "mark", angles: () => markAngles(table, !strokeHidden) };
  const jumps = strokeHidden
    ? [marks]
    : [
        marks,
        { name: "event", angles: () => eventAngles(table) },
        { name: "stop", angles: () => stops.current },
      ];
  return (
    <section className="card turn-bar" aria-label="Turning">
      <div className="turn-group">
        {[-10, -1, 1, 10].map((by) => (
          <button key={by} type="button" className="button" onClick={() => crank.turn(by)}>
            {by > 0 ? `+${by}°` : `−${-by}°`}
          </button>
        ))}
      </div>
      {jumps.map(({ name, angles }) => (
        <div key={name} className="turn-group jump">
          <button
            type="button"
            className="button"
            aria-label={`${name} before`}
            onClick={() => to(angles(), -1)}
          >
            ◂
          </button>
          <span>{name}</span>
          <button
            type="button"
            className="button"
            aria-label={`next ${name}`}
            onClick={() => to(angles(), 1)}
          >
            ▸
          </button>
        </div>
      ))}
      <button type="button" className="button" aria-pressed={rocking} onClick={onRock}>
        {rocking ? "Stop" : "Rock"}
      </button>
      <label className="as-on-engine">
        <input type="checkbox" checked={real} onChange={onReal} />
        as on the engine
      </label>
      <TurnNote {...{ table, crank, real, rocking, strokeHidden }} />
    </section>
  );
}

/** One line: what was reached, the slack, what was refused, or what rocking shows. */
type NoteProps = Pick<Props, "table" | "crank" | "rocking" | "strokeHidden"> & { real: boolean };

function TurnNote({ table, crank, real, rocking, strokeHidden }: NoteProps) {
  const told = useTold(crank, (deg, camDeg) => {
    if (rocking) return "Rocking: forward opens the intake, back opens the exhaust.";
    if (crank.refused) {
      return "Refused: this engine is turned the running way only. Overshot? Once round again.";
    }
    const lag = normalise(camDeg - deg);
    if (real && lag > 0) {
      return `Cam waits: ${degrees(lag)} of slack not taken up. Come forward to take it up.`;
    }
    const events = strokeHidden ? "" : eventsAt(table, camDeg);
    if (!real) return events;
    const turned = `Turned ${degrees(crank.turnedDeg)} so far.`;
    return events ? `${events}. ${turned}` : turned;
  });
  return (
    <p className="turn-note" role="status">
      {told}
    </p>
  );
}
