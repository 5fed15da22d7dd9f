/** What the log says of wear: what to open next, when each valve leaves its spec, and each by itself. */
import type { Schemas } from "../api/client";
import { Ahead } from "./Ahead";
import { ValveTrend } from "./ValveTrend";

type Trend = Schemas["TrendOut"];

export function TrendView({ trend }: { trend: Trend }) {
  return (
    <>
      <div className="says-next">
        {trend.says.map((line, at) => (
          <p key={line} className={at === 0 ? "first" : ""}>
            {line}
          </p>
        ))}
      </div>
      {trend.valves.some((valve) => valve.rate !== null) && <Ahead trend={trend} />}
      {trend.valves.length > 0 && (
        <>
          <h3>Each valve over the meter</h3>
          <p className="soft">
            A dot is a gap found, a ring what it was left at. The band is the spec, the line the
            wear between two adjustments, the dashed line where it goes.
          </p>
          <div className="valve-trends">
            {trend.valves.map((valve) => (
              <ValveTrend key={valve.valve} valve={valve} trend={trend} />
            ))}
          </div>
        </>
      )}
    </>
  );
}
