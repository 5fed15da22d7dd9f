/** One valve's gaps over the meter: found, left, the wear between, and where it goes. */
import { scaleLinear } from "d3-scale";
import type { Schemas } from "../api/client";
import { Badge } from "../app/Badge";
import { beside } from "../app/lengths";
import { Axis } from "../charts/Axis";
import { Plot } from "../charts/Plot";
import { Told } from "../charts/Told";
import { type Lengths, lengthsIn } from "../study/lengths";
import { gapSpan, meterSpan } from "./trendScales";

type Trend = Schemas["TrendOut"];
type Valve = Trend["valves"][number];

const HEIGHT = 150;
const LEFT = 72;
const MARGIN = 12;

export function ValveTrend({ valve, trend }: { valve: Valve; trend: Trend }) {
  const lengths = lengthsIn(valve.written_in === "thou" ? "thou" : "mm");
  const odd = trend.odd.find((one) => one.valve === valve.valve);
  return (
    <figure className={odd ? "valve-trend odd" : "valve-trend"}>
      <figcaption>
        <Badge number={valve.valve} role={valve.role} size={34} />
        <span>
          {valve.rate_says}
          {odd && <b> Runs away from its siblings.</b>}
        </span>
      </figcaption>
      <Plot
        className="trend-chart"
        title={`Gap of ${valve.role} ${valve.valve}, ${lengths.unit}`}
        height={HEIGHT}
        least={300}
      >
        {(width) => <Drawn {...{ valve, trend, lengths, width }} />}
      </Plot>
    </figure>
  );
}

type DrawnProps = { valve: Valve; trend: Trend; lengths: Lengths; width: number };

function Drawn({ valve, trend, lengths, width }: DrawnProps) {
  const [from, to] = meterSpan([valve], valve.expected, valve.soonest);
  const x = scaleLinear([from, to], [LEFT, width - MARGIN]);
  const y = scaleLinear(gapSpan(valve).map(lengths.figure), [HEIGHT, 8]).nice();
  const gap = (lengthMm: number) => y(lengths.figure(lengthMm));
  const [top, bottom] = [gap(valve.high_mm), gap(valve.low_mm)];
  const clip = `trend-${valve.valve}`;
  return (
    <>
      <clipPath id={clip}>
        <rect x={LEFT} y="0" width={width - LEFT - MARGIN} height={HEIGHT} />
      </clipPath>
      <rect
        className="spec-band"
        x={LEFT}
        width={width - LEFT - MARGIN}
        y={top}
        height={bottom - top}
      />
      <g clipPath={`url(#${clip})`}>
        {valve.stretches.map((line) => (
          <path
            key={`${line.from_h} ${line.from_mm}`}
            className={`wear ${valve.role}`}
            d={`M${x(line.from_h)},${gap(line.from_mm)}L${x(line.to_h)},${gap(line.to_mm)}`}
          />
        ))}
        <Forecast valve={valve} x={x} gap={gap} />
      </g>
      {valve.points.map((point, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: two passes may be the same figures
        <Point key={at} {...{ point, valve, x, gap }} unit={trend.meter_unit} />
      ))}
      <Axis side="left" scale={y} at={LEFT} ticks={4} title={lengths.unit} />
      <Axis side="bottom" scale={x} at={HEIGHT} ticks={4} title={`meter, ${trend.meter_unit}`} />
    </>
  );
}

type OnChart = { x: (meter: number) => number; gap: (lengthMm: number) => number };

function Forecast({ valve, x, gap }: OnChart & { valve: Valve }) {
  const limit = valve.side === "tight" ? valve.low_mm : valve.high_mm;
  if (valve.outside || valve.side === null) return null;
  const from = `M${x(valve.last_meter)},${gap(valve.last_mm)}L`;
  return (
    <>
      {valve.expected !== null && (
        <path className="forecast" d={`${from}${x(valve.expected)},${gap(limit)}`} />
      )}
      {valve.soonest !== null && (
        <path className="forecast soonest" d={`${from}${x(valve.soonest)},${gap(limit)}`} />
      )}
    </>
  );
}

type PointProps = OnChart & {
  point: Valve["points"][number];
  valve: Valve;
  unit: string;
};

function Point({ point, valve, unit, x, gap }: PointProps) {
  const { found_mm: found, left_mm: left, meter } = point;
  const says = [
    `${meter.toLocaleString("en-GB")} ${unit}`,
    found === null ? "" : `found ${beside(found, valve)}`,
    left === null ? "" : `left at ${beside(left, valve)}`,
  ]
    .filter(Boolean)
    .join(", ");
  return (
    <Told says={says}>
      {found !== null && left !== null && (
        <path className="step" d={`M${x(meter)},${gap(found)}V${gap(left)}`} />
      )}
      {found !== null && (
        <circle className={`found ${valve.role}`} cx={x(meter)} cy={gap(found)} r="4" />
      )}
      {left !== null && (
        <circle className={`left ${valve.role}`} cx={x(meter)} cy={gap(left)} r="4.5" />
      )}
    </Told>
  );
}
