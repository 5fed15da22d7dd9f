/** What the log says of wear: what to open next, when each valve leaves its spec, and each by itself. */
import { Button } from "antd";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { Ahead } from "./Ahead";
import { byUrgency } from "./trendScales";
import { ValveTrend } from "./ValveTrend";

type Trend = Schemas["TrendOut"];

const FIRST = 6;

export function TrendView({ trend }: { trend: Trend }) {
  const [all, setAll] = useState(false);
  const odd = new Set(trend.odd.map((one) => one.valve));
  const urgent = byUrgency(trend.valves);
  const inTurn = [...urgent].sort((a, b) => Number(odd.has(b.valve)) - Number(odd.has(a.valve)));
  const byNumber = [...urgent].sort((one, other) => one.valve - other.valve);
  const more = trend.valves.length > FIRST + 2;
  const shown = more && !all ? inTurn.slice(0, FIRST) : byNumber;
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
            {shown.map((valve) => (
              <ValveTrend key={valve.valve} valve={valve} trend={trend} />
            ))}
          </div>
          {more && (
            <Button onClick={() => setAll(!all)}>
              {all ? "The most urgent only" : `All ${trend.valves.length} valves`}
            </Button>
          )}
        </>
      )}
    </>
  );
}
