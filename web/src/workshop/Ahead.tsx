/** When each valve leaves its spec: from the earliest (by the 95 % band of its line) to the expected. */
import { scaleLinear } from "d3-scale";
import type { Schemas } from "../api/client";
import { Axis } from "../charts/Axis";
import { Plot } from "../charts/Plot";
import { Told } from "../charts/Told";
import { byUrgency, meterSpan } from "./trendScales";

type Trend = Schemas["TrendOut"];
type Valve = Trend["valves"][number];

const ROW = 28;
const NAMES = 120;
const MARGIN = 26;

export function Ahead({ trend }: { trend: Trend }) {
  const valves = byUrgency(trend.valves);
  const odd = new Set(trend.odd.map((one) => one.valve));
  const ends = valves.flatMap((valve) => [valve.soonest, valve.expected]);
  const now = trend.meter_now === null ? null : Number(trend.meter_now);
  const from = Math.min(...valves.map((valve) => valve.last_meter));
  const [, to] = meterSpan(trend.valves, trend.next_look, ...ends);
  const height = valves.length * ROW;
  return (
    <>
      <h3>When each leaves its spec</h3>
      <p className="soft">
        A bar begins at the earliest hour, where the 95 % band of the fitted line meets a limit, and
        ends at the expected one. A bar that runs off the chart is far away; without one nothing can
        be said.
      </p>
      <Plot
        className="trend-chart"
        title={`When each valve leaves its spec, ${trend.meter_unit}`}
        height={height}
        least={520}
      >
        {(width) => {
          const x = scaleLinear([from, to], [NAMES, width - MARGIN]).nice();
          const edge = width - MARGIN;
          return (
            <>
              {valves.map((valve, row) => (
                <Row
                  key={valve.valve}
                  {...{ valve, edge, width, x }}
                  odd={odd.has(valve.valve)}
                  top={row * ROW}
                  unit={trend.meter_unit}
                />
              ))}
              {now !== null && (
                <path className="zero" d={`M${x(now)},0V${height}`}>
                  <title>now</title>
                </path>
              )}
              {trend.next_look !== null && (
                <path
                  className="next-look"
                  d={`M${Math.min(x(trend.next_look), edge)},0V${height}`}
                />
              )}
              <Axis
                side="bottom"
                scale={x}
                at={height}
                title={`meter, ${trend.meter_unit}; the solid line is the next look, the dotted one now`}
              />
            </>
          );
        }}
      </Plot>
    </>
  );
}

type RowProps = {
  valve: Valve;
  odd: boolean;
  top: number;
  width: number;
  edge: number;
  unit: string;
  x: (meter: number) => number;
};

function Row({ valve, odd, top, width, edge, unit, x }: RowProps) {
  const y = top + ROW / 2;
  const begin = valve.soonest ?? valve.expected;
  const inside = (meter: number) => Math.min(x(meter), edge);
  const at = (meter: number | null) =>
    meter === null ? "" : ` ${Math.round(meter).toLocaleString("en-GB")} ${unit}`;
  const says = valve.outside
    ? `${valve.role} ${valve.valve}: outside its spec as last left`
    : `${valve.role} ${valve.valve}: ${valve.rate_says}${
        begin === null
          ? ""
          : `; leaves its spec at the earliest at${at(begin)}, expected at${at(valve.expected) || " no time"}`
      }`;
  return (
    <Told says={says}>
      <rect className="under" x="0" y={top} width={width} height={ROW} />
      <text className="name" x="0" y={y + 5}>
        {valve.role} {valve.valve}
        {odd ? " !" : ""}
      </text>
      {begin !== null && (
        <path
          className={`ahead ${valve.role}`}
          d={`M${inside(begin)},${y}H${Math.max(inside(valve.expected ?? begin), inside(begin) + 4)}`}
        />
      )}
      {begin === null && (
        <text x={NAMES} y={y + 5}>
          –
        </text>
      )}
    </Told>
  );
}
