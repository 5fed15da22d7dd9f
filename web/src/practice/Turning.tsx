/** Turning the crank of the practice engine, and looking at what shows where it stands. */

import { useEffect, useMemo, useState } from "react";
import { Field } from "../app/Field";
import { figureOf } from "../app/figures";
import { CrankWheel } from "../bench/CrankWheel";
import { Crank } from "../bench/crank";
import type { Table } from "../bench/lookup";
import { dotAt } from "../bench/useDots";
import type { Action, View } from "./useRun";

const TURN_DEG = 360;
const STANDS = [
  [1, "an hour"],
  [4, "four hours"],
  [14, "till tomorrow"],
] as const;
const LOOKS = [
  ["marks", "Marks"],
  ["lobes", "Lobes"],
  ["rotor", "Rotor"],
  ["threads", "Threads"],
  ["pads", "Pads"],
  ["engine", "Warm?"],
] as const;

/** Those that this engine has: a rotor only with a distributor, threads and pads only with screws. */
function looksOf({ engine }: Table) {
  const offered = new Set(engine.looks.map((look) => look.name));
  const screwed = Object.values(engine.adjusters).includes("screw");
  return LOOKS.filter(([at]) => {
    if (at === "threads" || at === "pads") return screwed;
    return at === "lobes" || at === "rotor" ? offered.has(at) : true;
  });
}

/** Degrees on to the next crank mark, as the wheel shows them. */
export function toNextMark(table: Table, atDeg: number): number {
  const ahead = table.engine.marks
    .filter((mark) => mark.on === "crank")
    .map((mark) => (((mark.deg - atDeg) % TURN_DEG) + TURN_DEG) % TURN_DEG)
    .map((deg) => (deg < 0.5 ? TURN_DEG : deg));
  return ahead.length ? Math.min(...ahead) : TURN_DEG;
}

type Props = { table: Table; view: View; act: (action: Action) => unknown };

export function Turning({ table, view, act }: Props) {
  const crank = useMemo(() => new Crank(0), []);
  const [typed, setTyped] = useState("90");
  useEffect(() => {
    crank.set(view.crank_turn_deg);
  }, [crank, view.crank_turn_deg]);
  const turn = (by: number) => act({ do: "turn", by_deg: Math.round(by * 10) / 10 });
  const by = figureOf(typed) ?? 0;
  const pinned = table.engine.marks.some((mark) => mark.means === "pin");
  const dotted = dotAt(view.dots_deg, view.crank_turn_deg) !== undefined;
  return (
    <div className="turning">
      <CrankWheel table={table} crank={crank} strokeHidden />
      <div className="card turn-tools">
        <h2>Turn</h2>
        <div className="ways">
          {[-10, -1, 1, 10].map((deg) => (
            <button key={deg} type="button" className="button" onClick={() => turn(deg)}>
              {deg > 0 ? `+${deg}°` : `−${-deg}°`}
            </button>
          ))}
          <button
            type="button"
            className="button main"
            onClick={() => turn(toNextMark(table, view.crank_turn_deg))}
          >
            Next mark <kbd>M</kbd>
          </button>
          <span className="by">
            <Field label="Degrees to turn" value={typed} onChange={setTyped} />
            <button type="button" className="button" disabled={by === 0} onClick={() => turn(by)}>
              Turn so far
            </button>
          </span>
          <button type="button" className="button" onClick={() => act({ do: "rock" })}>
            Rock <kbd>O</kbd>
          </button>
          <button
            type="button"
            className="button"
            onClick={() => act({ do: "paint", wipe: dotted })}
          >
            {dotted ? "Wipe your dot off" : "Paint a dot"}
          </button>
        </div>
        {pinned && (
          <>
            <h2>Timing pin: {view.crank_locked ? "in" : "out"}</h2>
            <div className="ways">
              <button
                type="button"
                className="button"
                onClick={() => act({ do: "lock-crank", locked: !view.crank_locked })}
              >
                {view.crank_locked ? "Pull it out" : "Try it in"}
              </button>
            </div>
          </>
        )}
        <h2>Let it stand</h2>
        <div className="ways">
          {STANDS.map(([hours, label]) => (
            <button
              key={hours}
              type="button"
              className="button"
              onClick={() => act({ do: "wait", hours })}
            >
              {label}
            </button>
          ))}
        </div>
        <h2>Look at</h2>
        <div className="ways">
          {looksOf(table).map(([at, label]) => (
            <button
              key={at}
              type="button"
              className="button"
              onClick={() => act({ do: "look", at })}
            >
              {label}
            </button>
          ))}
        </div>
      </div>
    </div>
  );
}
