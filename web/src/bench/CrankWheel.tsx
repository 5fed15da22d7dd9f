/** The crank wheel with its marks, seen from the front, and the cam's pointer at half speed. */
import { type RefObject, useRef } from "react";
import { degrees } from "../app/lengths";
import { type Crank, pastInTurn, shortest, usePaint, useTold } from "./crank";
import { onCircle, ticks } from "./geometry";
import { CYCLE_DEG, cylinderOf, type Table } from "./lookup";
import { useDragTurn } from "./useDragTurn";
import { C, RADIUS, SIZE, WheelMarks } from "./WheelMarks";
import "./wheel.css";

const CAM = 40;

type Props = {
  table: Table;
  crank: Crank;
  /** Only what the crank shows: neither the cam nor which turn it is. */
  strokeHidden?: boolean;
  /** Marks drawn alike, whatever they mean: for asking what they say. */
  marksAlike?: boolean;
  /** Whether it is turned by hand; a practice engine is turned by its own tools. */
  turnable?: boolean;
  /** Dots of one's own, where they can be painted. */
  painting?: Painting;
};

type Painting = { dotAt: (deg: number) => number | undefined; toggleDot: (deg: number) => void };

function PaintDot({ crank, painting }: { crank: Crank; painting: Painting }) {
  const here = useTold(crank, (deg) => (painting.dotAt(deg) === undefined ? "" : "here")) !== "";
  return (
    <button
      type="button"
      className="button paint-dot"
      onClick={() => painting.toggleDot(crank.deg)}
    >
      {here ? "Wipe this dot off" : "Paint a dot at the pointer"}
    </button>
  );
}

export function CrankWheel(props: Props) {
  const {
    table,
    crank,
    strokeHidden = false,
    marksAlike = false,
    turnable = false,
    painting,
  } = props;
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
  const told = useTold(crank, (deg, cam) => placeWords(table, deg, strokeHidden ? null : cam));
  const turning = useDragTurn(crank, sense, (box) => ({ x: box.width / 2, y: box.height / 2 }));

  return (
    <section className="card wheel" aria-label="Crank wheel">
      <header>
        <h2>Crank wheel</h2>
        <span className="soft">turns {table.engine.rotation}</span>
      </header>
      <div className={turnable ? "wheel-face turnable" : "wheel-face"} {...(turnable && turning)}>
        <svg viewBox={`0 0 ${SIZE} ${SIZE}`} aria-hidden="true">
          <path d={`M${C - 10},8h20l-10,16z`} className="fixed" />
          <circle cx={C} cy={C} r={RADIUS} className="rim" />
          <g ref={wheel}>
            <path d={ticks(C, C, RADIUS)} className="ticks" />
            <WheelMarks marks={marksOf(table, marksAlike)} sense={sense} />
          </g>
          {!strokeHidden && <Cam table={table} pointer={pointer} />}
          <circle cx={C} cy={C} r="6" className="fixed" />
        </svg>
      </div>
      {painting && <PaintDot crank={crank} painting={painting} />}
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
      {staggered(table.engine.marks.filter((mark) => mark.on === "cam")).map(({ mark, level }) => {
        const at = onCircle(C, C, CAM + 11 + 21 * level, (sense * mark.deg) / 2);
        return (
          <g key={mark.label + mark.deg} className="cam-mark">
            <title>{camMarkWords(mark)}</title>
            <circle cx={at.x} cy={at.y} r="10" />
            <text x={at.x} y={at.y + 5} textAnchor="middle">
              {mark.label}
            </text>
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

/** Marks that stand so near to the one before that their letters would overprint, one level out. */
function staggered<M extends { deg: number }>(marks: readonly M[]): { mark: M; level: number }[] {
  const sorted = [...marks].sort((one, other) => one.deg - other.deg);
  const levels: number[] = [];
  return sorted.map((mark, at) => {
    // The last stands before the first: the cam goes round.
    const before = sorted.at(at - 1);
    const past = before === undefined ? 0 : (mark.deg - before.deg + 720) % 720;
    const near = before !== mark && past < CAM_LETTER_DEG;
    levels[at] = near ? (levels[at - 1] ?? 0) + 1 : 0;
    return { mark, level: levels[at] ?? 0 };
  });
}

/** A letter on the cam takes so much of its circle, in crank degrees. */
const CAM_LETTER_DEG = 40;

function marksOf(table: Table, alike: boolean) {
  const marks = table.engine.marks.filter((mark) => mark.on === "crank");
  return alike ? marks.map(({ label, deg }) => ({ label, deg })) : marks;
}

/** Which mark the pointer stands at or how far past it, and which turn of the two; the cam's own
 * marks where the cam may be seen. */
function placeWords(table: Table, deg: number, camDeg: number | null): string {
  const withTurn = camDeg !== null;
  const lined = camDeg === null ? "" : camWords(table, deg, camDeg);
  const marks = table.engine.marks.filter((mark) => mark.on === "crank");
  const turn = deg < CYCLE_DEG / 2 ? "first" : "second";
  let best: { label: string; past: number } | null = null;
  for (const mark of marks) {
    const past = pastInTurn(deg, mark.deg);
    if (best === null || Math.abs(past) < Math.abs(best.past)) best = { label: mark.label, past };
  }
  if (best === null) return withTurn ? `In the ${turn} turn.${lined}` : "";
  const far = Math.abs(best.past);
  const where =
    far < 0.05
      ? `At ${called(best.label)}`
      : `${far.toFixed(far < 10 ? 1 : 0)}° ${best.past > 0 ? "past" : "before"} ${called(best.label)}`;
  return withTurn ? `${where}, ${turn} of two turns.${lined}` : `${where}.`;
}

/** A dot of one's own has no letter to be named by. */
function called(label: string): string {
  return label === "●" ? "your own dot" : `mark ${label}`;
}

/**
 * ` Cam mark •, at the head face, lines up.` for each that does. With the crank mark at its pointer
 * a cam mark may be off by what its sprocket's teeth allow, and then no nearer place exists.
 */
function camWords(table: Table, deg: number, camDeg: number): string {
  const allowed = table.engine.cam_mark_allow_deg ?? LINED_UP_DEG;
  const { marks } = table.engine;
  const crankIsAtMark = marks.some(
    (mark) => mark.on === "crank" && Math.abs(pastInTurn(deg, mark.deg)) < LINED_UP_DEG / 4,
  );
  return marks
    .filter((mark) => mark.on === "cam")
    .map((mark) => {
      const off = Math.abs(shortest(mark.deg, camDeg));
      const words = camMarkWords(mark).replace(/^cam/, "Cam");
      if (off < LINED_UP_DEG / 4) return ` ${words}, lines up.`;
      if (off > allowed || !crankIsAtMark) return "";
      return ` ${words}, ${degrees(off)}${inTeeth(off, table)} off: as near as its chain or belt lets it be.`;
    })
    .join("");
}

/** ` (0.3 teeth)`: how far off is in teeth of the cam sprocket, where the file says how many it has. */
function inTeeth(offDeg: number, { engine }: Table): string {
  if (engine.cam_tooth_deg === null) return "";
  const teeth = (offDeg / engine.cam_tooth_deg).toFixed(1);
  return ` (${teeth} ${teeth === "1.0" ? "tooth" : "teeth"})`;
}

/** Without a sprocket in the file: a mark is at its line, or it is not. */
const LINED_UP_DEG = 2;

/** `cam mark •, at the head face, at 12 o'clock`. */
function camMarkWords({ label, pointer, clock }: Table["engine"]["marks"][number]): string {
  const at = pointer === "" ? "" : `, at the ${pointer}`;
  return `cam mark ${label}${at}${clock === null ? "" : `, at ${clock} o'clock`}`;
}
