/** The rocker row: every valve in physical order, tilting as it really lifts, saying what it does. */
import { useMemo, useRef } from "react";
import { Badge } from "../app/Badge";
import { thou } from "../app/lengths";
import type { Unit } from "../app/session";
import { useWidth } from "../charts/useWidth";
import { type Crank, usePaint, useWords } from "./crank";
import { cylinderRuns, headGroups, leanDeg, rowsOf } from "./geometry";
import { type Table, type Valve, valveNow } from "./lookup";
import { useOnScreen } from "./useOnScreen";
import "./rockers.css";

const LEAST_PX = 56;
const BANK_GAP_PX = 24;
const TRAVEL_PX = 17;
const GAP_PX = 5;
const STEP_PX = 0.5;
const PIVOT_Y = 18;

type RockerRowProps = {
  table: Table;
  crank: Crank;
  unit: Unit;
  /** Drawing only, without words and figures: for naming the stroke. */
  bare?: boolean;
};

export function RockerRow({ table, crank, unit, bare = false }: RockerRowProps) {
  const [frame, width] = useWidth<HTMLDivElement>();
  const groups = useMemo(() => headGroups(table.engine), [table]);
  const total = table.engine.valves.length;
  // Banks stand side by side where all their valves fit in one line.
  const gaps = (groups.length - 1) * BANK_GAP_PX;
  const together = width - gaps >= total * LEAST_PX;
  return (
    <section className={bare ? "card rockers bare" : "card rockers"} aria-label="Rocker row">
      <header>
        <h2>Rocker row</h2>
        <span className="soft">
          front of the engine is left
          {!bare && `; lift in ${unit}; degrees to the edge of the heel`}
        </span>
      </header>
      <div ref={frame} className="banks">
        {width > 0 &&
          groups.map((group) => (
            <div key={group.name} className="bank">
              {group.name && (
                <p className="bank-name">
                  <BankSign layout={table.engine.layout} place={group.place} of={groups.length} />
                  {group.name}
                </p>
              )}
              {rowsOf(group.valves, together ? Number.POSITIVE_INFINITY : width, LEAST_PX).map(
                (row) => (
                  <Row
                    key={row[0]?.number}
                    table={table}
                    crank={crank}
                    unit={unit}
                    valves={row}
                    cell={
                      together
                        ? Math.min(120, (width - gaps) / Math.max(total, 4))
                        : Math.min(120, width / Math.max(row.length, 4))
                    }
                  />
                ),
              )}
            </div>
          ))}
      </div>
    </section>
  );
}

/** How a bank leans, seen from the front. */
function BankSign({ layout, place, of }: { layout: string; place: number; of: number }) {
  return (
    <svg width="34" height="22" viewBox="-17 -18 34 22" aria-hidden="true" className="bank-sign">
      {Array.from({ length: of }, (_, index) => (
        <path
          key={leanDeg(layout, index, of)}
          d="M0,0V-14"
          className={index === place ? "here" : undefined}
          transform={`rotate(${leanDeg(layout, index, of)})`}
        />
      ))}
      <circle r="3" />
    </svg>
  );
}

type RowProps = { table: Table; crank: Crank; unit: Unit; valves: Valve[]; cell: number };

function Row({ table, crank, unit, valves, cell }: RowProps) {
  const line = useRef<HTMLDivElement>(null);
  const onScreen = useOnScreen(line);
  return (
    <div className="rocker-line" ref={line}>
      <div className="brackets" aria-hidden="true">
        {cylinderRuns(valves).map((run) => (
          <span key={run.from} style={{ width: cell * (run.to - run.from + 1) }}>
            <i>{cell * (run.to - run.from + 1) > 90 ? `cylinder ${run.cylinder}` : run.cylinder}</i>
          </span>
        ))}
      </div>
      <ol className="cells">
        {valves.map((valve) => (
          <Cell
            key={valve.number}
            table={table}
            crank={crank}
            unit={unit}
            valve={valve}
            width={cell}
            still={!onScreen}
          />
        ))}
      </ol>
    </div>
  );
}

type CellProps = {
  table: Table;
  crank: Crank;
  unit: Unit;
  valve: Valve;
  width: number;
  /** Out of sight: nothing is painted until it comes back. */
  still: boolean;
};

function Cell({ table, crank, unit, valve, width, still }: CellProps) {
  const cell = useRef<HTMLLIElement>(null);
  const rocker = useRef<SVGPathElement>(null);
  const stem = useRef<SVGPathElement>(null);
  const head = useRef<SVGPathElement>(null);
  const spring = useRef<SVGPathElement>(null);
  const rod = useRef<SVGPathElement>(null);
  const chip = useRef<HTMLSpanElement>(null);
  const margin = useRef<HTMLSpanElement>(null);
  const fullMm = table.engine.specs.find((spec) => spec.role === valve.role)?.lift_mm ?? 1;
  const nominalMm = Math.max(...(table.roles[valve.role]?.gap_mm ?? [1]));
  const arm = Math.min(34, width / 2 - 12);
  const narrow = width < 84;

  useWords(crank, (_deg, cam) => {
    if (still) return;
    const now = valveNow(table, valve, cam);
    const sign = now.marginDeg < 0 ? "−" : "+";
    setText(margin.current, `${sign}${Math.abs(now.marginDeg).toFixed(0)}°`);
    const lift = unit === "mm" ? now.liftMm.toFixed(1) : thou(now.liftMm).replace(" thou", "");
    const told = narrow ? lift : `open ${lift}`;
    const waits = now.state === "ramp" ? "ramp" : told;
    setText(chip.current, now.settable ? (narrow ? "set" : "may be set") : waits);
  });
  const painted = useRef("");
  usePaint(crank, (_deg, cam) => {
    if (still) return;
    const now = valveNow(table, valve, cam);
    const down = inSteps((now.liftMm / fullMm) * TRAVEL_PX);
    const up = inSteps((now.gapMm / nominalMm) * GAP_PX);
    // On its heel a valve stands still, and most of them are on it.
    const looks = `${down} ${up} ${now.state} ${now.settable} ${width}`;
    if (painted.current === looks) return;
    painted.current = looks;
    rocker.current?.setAttribute("d", beam(arm, down - up));
    stem.current?.setAttribute("d", stemAt(arm, down));
    head.current?.setAttribute("d", headAt(arm, down));
    spring.current?.setAttribute("d", coil(arm, 18 + down, 54));
    rod.current?.setAttribute("d", `M${-arm},${26 + up - down}V${92 + up - down}`);
    if (cell.current && cell.current.dataset.state !== now.state) {
      cell.current.dataset.state = now.state;
      cell.current.dataset.settable = String(now.settable);
    }
  });

  return (
    <li ref={cell} className={`cell ${valve.role}`} style={{ width }}>
      <Badge number={valve.number} role={valve.role} size={narrow ? 34 : 40} />
      <svg width={width} height={96} viewBox={`${-width / 2} 0 ${width} 96`} aria-hidden="true">
        <path ref={rod} className="rod" />
        <path className="seat" d={`M${arm - 17},84h8M${arm + 9},84h8`} />
        <path ref={spring} className="spring" />
        <path ref={stem} className="stem" />
        <path ref={head} className="head" />
        <path ref={rocker} className="rocker" />
        <circle cy={PIVOT_Y} r="4.5" className="pivot" />
      </svg>
      <span ref={chip} className="chip" />
      <span ref={margin} className="figures margin" title="degrees to the edge of the heel" />
      <span className="visually-hidden">{`valve ${valve.number}, ${valve.role}, cylinder ${valve.cylinder}`}</span>
    </li>
  );
}

/** Pixels as finely as the eye follows: many valves stand still from one frame to the next. */
function inSteps(px: number): number {
  return Math.round(px / STEP_PX) * STEP_PX;
}

function setText(element: HTMLElement | null, text: string) {
  if (element && element.textContent !== text) element.textContent = text;
}

/** The stem with its collar and, apart, the head of a valve pressed down by so many pixels. */
function stemAt(arm: number, down: number): string {
  const top = PIVOT_Y + GAP_PX + down;
  return `M${arm},${top}V${76 + down}M${arm - 8},${top + 2}h16`;
}

function headAt(arm: number, down: number): string {
  return `M${arm - 3},${74 + down}h6l8,10h-22z`;
}

/** The rocker's outline, tilted about its pivot until the valve's end stands `down` lower. */
function beam(arm: number, down: number): string {
  const reach = Math.hypot(arm, down);
  const cos = arm / reach;
  const sin = down / reach;
  const at = (x: number, y: number) =>
    `${(x * cos - y * sin).toFixed(1)},${(PIVOT_Y + x * sin + y * cos).toFixed(1)}`;
  return (
    `M${at(-arm - 6, -4)}Q${at(0, -14)} ${at(arm + 6, -5)}L${at(arm + 5, 5)}` +
    `Q${at(arm, 6)} ${at(arm - 5, 5)}Q${at(0, 0)} ${at(-arm + 4, 8)}L${at(-arm - 5, 8)}Z`
  );
}

/** A spring as a zigzag between two heights. */
function coil(x: number, top: number, bottom: number): string {
  const turns = 6;
  let path = `M${x - 8},${(top + GAP_PX + 3).toFixed(1)}`;
  for (let turn = 1; turn <= turns; turn++) {
    const y = top + GAP_PX + 3 + ((bottom + 14 - top - GAP_PX) * turn) / turns;
    path += `L${turn % 2 ? x + 8 : x - 8},${y.toFixed(1)}`;
  }
  return path;
}
