/** The crank wheel standing still, with its marks and the pointer: what anybody sees of it. */
import type { Schemas } from "../api/client";
import { ticks } from "./geometry";
import { C, RADIUS, SIZE, WheelMarks } from "./WheelMarks";
import "./wheel.css";

export function BareWheel({ drawing }: { drawing: Schemas["BareOut"] }) {
  const sense = drawing.clockwise ? 1 : -1;
  return (
    <svg className="bare-wheel wheel" viewBox={`0 0 ${SIZE} ${SIZE}`} role="img">
      <title>{`The crank wheel, turns ${drawing.clockwise ? "clockwise" : "counterclockwise"}`}</title>
      <path d={`M${C - 10},8h20l-10,16z`} className="fixed" />
      <circle cx={C} cy={C} r={RADIUS} className="rim" />
      <g transform={`rotate(${sense * drawing.wheel_deg} ${C} ${C})`}>
        <path d={ticks(C, C, RADIUS)} className="ticks" />
        <WheelMarks marks={drawing.marks} sense={sense} />
      </g>
      <circle cx={C} cy={C} r="6" className="fixed" />
    </svg>
  );
}
