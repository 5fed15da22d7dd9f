/** Scales of a drawing: millimetres up its side, degrees along its foot. */
import { degrees } from "../app/lengths";
import { normalise } from "./lookup";

const STEPS_MM = [0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10];
const MOST_LINES = 5;
/** Closer than this, in pixels, labels of degrees run into each other. */
const LEAST_PX = 58;
const STEPS_DEG = [10, 20, 30, 60, 90, 180];

type MmProps = {
  /** The length at the top. */
  fullMm: number;
  width: number;
  baseline: number;
  height: number;
};

/** Lines across at round millimetres, each with its figure. */
export function MmScale({ fullMm, width, baseline, height }: MmProps) {
  const step = STEPS_MM.find((one) => fullMm / one <= MOST_LINES) ?? 20;
  const lines = Array.from(
    { length: Math.floor(fullMm / step + 1e-9) },
    (_, at) => step * (at + 1),
  );
  const decimals = step < 0.1 ? 2 : step < 1 ? 1 : 0;
  return (
    <g className="scale-mm">
      {lines.map((mm) => {
        const y = baseline - (mm / fullMm) * height;
        return (
          <g key={mm}>
            <path d={`M0,${y.toFixed(1)}H${width}`} />
            <text x="2" y={(y - 3).toFixed(1)}>
              {mm.toFixed(decimals)}
              {mm === lines.at(-1) ? " mm" : ""}
            </text>
          </g>
        );
      })}
    </g>
  );
}

type DegProps = {
  fromDeg: number;
  toDeg: number;
  width: number;
  baseline: number;
  /** How far under the baseline the figures stand. */
  down: number;
};

/** Ticks at round degrees of the crank. */
export function DegScale({ fromDeg, toDeg, width, baseline, down }: DegProps) {
  const px = width / Math.max(1, toDeg - fromDeg);
  const step = STEPS_DEG.find((one) => one * px >= LEAST_PX) ?? 360;
  const first = Math.ceil(fromDeg / step) * step;
  const ticks = [];
  for (let deg = first; deg <= toDeg; deg += step) ticks.push(deg);
  return (
    <g className="scale-deg">
      {ticks.map((deg) => {
        const x = (deg - fromDeg) * px;
        const anchor = x < 16 ? "start" : x > width - 24 ? "end" : "middle";
        return (
          <g key={deg}>
            <path d={`M${x.toFixed(1)},${baseline}v6`} />
            <text x={x.toFixed(1)} y={baseline + down} textAnchor={anchor}>
              {degrees(normalise(deg))}
            </text>
          </g>
        );
      })}
    </g>
  );
}
