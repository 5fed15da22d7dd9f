/** The stops of a plan as a table to work down, with room to write in. */
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { Badge } from "../app/Badge";
import { degrees } from "../app/lengths";
import { Words } from "../app/Words";

type Facts = Schemas["EngineFacts"];
type Plan = Schemas["PlanOut"];

/** What a card has beside the stops themselves. */
export type CardColumns = { ticks: boolean; reading: boolean; adjuster: boolean };

type Props = {
  plan: Plan;
  engine: Facts;
  columns: CardColumns;
  benchPath: (crankDeg: number) => string;
};

export function StopsTable({ plan, engine, columns, benchPath }: Props) {
  const writing = columns.reading || columns.adjuster;
  return (
    <table className={writing ? "stops-table writing" : "stops-table"}>
      <thead>
        <tr>
          <th scope="col">Stop</th>
          <th scope="col">Turn</th>
          <th scope="col">Crank</th>
          <th scope="col">How to know it</th>
          <th scope="col">Set these valves</th>
          <th scope="col">Margin</th>
          <th scope="col">
            <span className="visually-hidden">Open on the Bench</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {plan.stops.map((stop) => (
          <tr key={stop.stop}>
            <th scope="row">{stop.stop}</th>
            <td className="figures turn">{degrees(stop.turn_deg)}</td>
            <td className="figures crank">{degrees(stop.crank_deg)}</td>
            <td className="find-by">
              <Words text={stop.find_by} />
            </td>
            <td className="valves">
              <SetThese engine={engine} valves={stop.valves} columns={columns} />
            </td>
            <td className="figures margin">
              {stop.margin_deg === null ? "–" : degrees(stop.margin_deg)}
            </td>
            <td className="to-bench">
              <Link
                className="button"
                to={benchPath(stop.crank_deg)}
                aria-label={`Open stop ${stop.stop} on the Bench`}
              >
                Bench
              </Link>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

type SetTheseProps = { engine: Facts; valves: readonly number[]; columns: CardColumns };

function SetThese({ engine, valves, columns }: SetTheseProps) {
  if (valves.length === 0) return <>none</>;
  const role = (number: number) => engine.valves.find((v) => v.number === number)?.role ?? "intake";
  const writing = columns.reading || columns.adjuster;
  return (
    <div className={writing ? "set-these lines" : "set-these"}>
      {valves.map((number) => (
        <span key={number} className="set-one">
          <Badge number={number} role={role(number)} size={38} />
          {columns.ticks && <i className="tick-box" aria-hidden="true" />}
          {columns.reading && <i className="write-in">reading</i>}
          {columns.adjuster && <i className="write-in">{adjusterWord(engine, role(number))}</i>}
        </span>
      ))}
    </div>
  );
}

/** What is written beside a valve when it is adjusted: the shim put in, or the turn of the screw. */
function adjusterWord(engine: Facts, role: string): string {
  return engine.adjusters[role] === "shim" ? "shim" : "adjusted";
}
