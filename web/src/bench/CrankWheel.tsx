/** The crank wheel with its marks, seen from the front, and the cam's pointer at half speed. */
import { type RefObject, useRef } from "react";
import { type Crank, usePaint, useTold } from "./crank";
import { onCircle, ticks } from "./geometry";
import { CYCLE_DEG, cylinderOf, type Table } from "./lookup";
import "./wheel.css";

const SIZE = 240;
const C = SIZE / 2;
const RADIUS = 102;
const CAM = 50;
/** Marks closer than this stand at two depths, so that their labels stay apart. */
const CROWDED_DEG = 20;

type Props = {
  table: Table;
  crank: Crank;
  /** Only what the crank shows: neither the cam nor which turn it is. */
  strokeHidden?: boolean;
};

export function CrankWheel({ table, crank, strokeHidden = false }: Props) {
  const wheel = useRef<SVGGElement>(null);
  const pointer = useRef<SVGGElement>(null);
  const sense = table.engine.rotation === "clockwise" ? 1 : -1;

  usePaint(crank, (deg, cam) => {
    wheel.current?.setAttribute("transform", `rotate(${(sense * deg).toFixed(2)} ${C} ${C})`);
    pointer.current?.setAttribute(
      "transform",
      `rotate(${((sense * cam) / 2).toFixed(2)} ${C} ${C})`,
    );
  });
  const told = useTold(crank, (deg) => placeWords(table, deg, !strokeHidden));

  return (
    <section className="card wheel" aria-label="Crank wheel">
      <header>
        <h2>Crank wheel</h2>
        <span className="soft">turns {table.engine.rotation}</span>
      </header>
      <div className="wheel-face">
        <svg viewBox={`0 0 ${SIZE} ${SIZE}`} aria-hidden="true">
          <path d={`M${C - 10},8h20l-10,16z`} className="fixed" />
          <circle cx={C} cy={C} r={RADIUS} className="rim" />
          <g ref={wheel}>
            <path d={ticks(C, C, RADIUS)} className="ticks" />
            {placed(table).map(({ mark, deep }) => {
              // A mark lines up with the fixed pointer when the crank has turned by its angle.
              const at = onCircle(C, C, RADIUS - (deep ? 36 : 15), -sense * mark.deg);
              const from = onCircle(C, C, RADIUS, -sense * mark.deg);
              return (
                <g key={`${mark.label}${mark.deg}`} className={`mark ${mark.means}`}>
                  <path d={`M${from.x},${from.y}L${at.x},${at.y}`} />
                  <circle cx={at.x} cy={at.y} r={mark.label.length > 2 ? 17 : 13} />
                  <text
                    x={at.x}
                    y={at.y + 5}
                    textAnchor="middle"
                    transform={`rotate(${-sense * mark.deg} ${at.x} ${at.y})`}
                  >
                    {mark.label}
                  </text>
                </g>
              );
            })}
          </g>
          {!strokeHidden && <Cam table={table} pointer={pointer} />}
          <circle cx={C} cy={C} r="6" className="fixed" />
        </svg>
      </div>
      <p>
        {told} {!strokeHidden && <span className="soft">Inside: the cam, at half speed.</span>}
      </p>
    </section>
  );
}

/** The cam at half speed: firing order round it, its own marks, and the pointer. */
function Cam({ table, pointer }: { table: Table; pointer: RefObject<SVGGElement | null> }) {
  const sense = table.engine.rotation === "clockwise" ? 1 : -1;
  const crowded = table.engine.firing_order.length > 8;
  return (
    <>
      <circle cx={C} cy={C} r={CAM} className="cam" />
      {!crowded &&
        table.engine.firing_order.map((number) => {
          const at = onCircle(C, C, CAM - 12, (sense * cylinderOf(table, number).fire_deg) / 2);
          return (
            <text key={number} x={at.x} y={at.y + 6} textAnchor="middle" className="cam-number">
              {number}
            </text>
          );
        })}
      {table.engine.marks
        .filter((mark) => mark.on === "cam")
        .map((mark) => {
          const at = onCircle(C, C, CAM + 9, (sense * mark.deg) / 2);
          return (
            <g key={mark.label + mark.deg} className="cam-mark">
              <title>{camMarkWords(mark)}</title>
              <circle cx={at.x} cy={at.y} r="5" />
            </g>
          );
        })}
      <g ref={pointer}>
        <path d={`M${C},${C}V${C - 20}`} className="cam-pointer" />
        <path d={`M${C - 5},${C - 19}h10l-5,-8z`} className="fixed" />
      </g>
    </>
  );
}

/** Crank marks with a second depth for those that crowd the one before them. */
function placed(table: Table) {
  const marks = table.engine.marks
    .filter((mark) => mark.on === "crank")
    .sort((one, other) => one.deg - other.deg);
  return marks.map((mark, index) => {
    const before = marks.at(index - 1) ?? mark;
    const apart = (((mark.deg - before.deg) % 360) + 360) % 360;
    return { mark, deep: mark !== before && apart < CROWDED_DEG && mark.means !== "ignition" };
  });
}

/** Which mark the pointer stands at or how far past it, and which turn of the two. */
function placeWords(table: Table, deg: number, withTurn: boolean): string {
  const marks = table.engine.marks.filter((mark) => mark.on === "crank");
  const turn = deg < CYCLE_DEG / 2 ? "first" : "second";
  let best: { label: string; past: number } | null = null;
  for (const mark of marks) {
    const past = ((((deg - mark.deg + 180) % 360) + 360) % 360) - 180;
    if (best === null || Math.abs(past) < Math.abs(best.past)) best = { label: mark.label, past };
  }
  if (best === null) return withTurn ? `In the ${turn} turn.` : "";
  const far = Math.abs(best.past);
  const where =
    far < 0.05
      ? `At mark ${best.label}`
      : `${far.toFixed(far < 10 ? 1 : 0)}° ${best.past > 0 ? "past" : "before"} mark ${best.label}`;
  return withTurn ? `${where}, ${turn} of two turns.` : `${where}.`;
}

/** `cam mark •, at the head face, at 12 o'clock`. */
function camMarkWords({ label, pointer, clock }: Table["engine"]["marks"][number]): string {
  const at = pointer === "" ? "" : `, at the ${pointer}`;
  return `cam mark ${label}${at}${clock === null ? "" : `, at ${clock} o'clock`}`;
}
