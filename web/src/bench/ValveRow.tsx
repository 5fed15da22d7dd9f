/** The row of valves: each in physical order and by its own kind, moving as it lifts, saying what it does. */
import { type ReactNode, useMemo, useRef } from "react";
import { Badge } from "../app/Badge";
import { thou } from "../app/lengths";
import type { Unit } from "../app/session";
import { useWidth } from "../charts/useWidth";
import { type Crank, usePaint, useWords } from "./crank";
import { closingPath, GAP, gearOf, lobePath, lobeTurn, TRAVEL } from "./gear";
import { cylinderRuns, headGroups, leanDeg, rowsOf } from "./geometry";
import { cycleDeg, cylinderOf, fullyOpenDeg, type Table, type Valve, valveNow } from "./lookup";
import { useOnScreen } from "./useOnScreen";
import "./valve-row.css";

const LEAST_PX = 56;
const BANK_GAP_PX = 24;
const STEP_PX = 0.5;
/** A lobe that turns by less, in degrees of the cam, looks as it did. */
const LOBE_STEP_DEG = 3;

export type ValveRowProps = {
  table: Table;
  crank: Crank;
  unit: Unit;
  /** Drawing only, without words and figures: for naming the stroke. */
  bare?: boolean;
  /** Where the labels are read, while the drawing turns elsewhere to show something. */
  labelsDeg?: number | undefined;
  /** What is said below each valve besides: how many of a class chose it. */
  below?: ((valve: number) => ReactNode) | undefined;
};

export function ValveRow({ table, crank, unit, bare = false, labelsDeg, below }: ValveRowProps) {
  const [frame, width] = useWidth<HTMLDivElement>();
  const groups = useMemo(() => headGroups(table.engine), [table]);
  const total = table.engine.valves.length;
  // Banks stand side by side where all their valves fit in one line.
  const gaps = (groups.length - 1) * BANK_GAP_PX;
  const together = width - gaps >= total * LEAST_PX;
  return (
    <section className={bare ? "card valve-row bare" : "card valve-row"} aria-label="Valve row">
      <header>
        <h2>{capitalised(table.engine.valves_called)}</h2>
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
                    labelsDeg={labelsDeg}
                    below={below}
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

type RowProps = Pick<ValveRowProps, "table" | "crank" | "unit" | "labelsDeg" | "below"> & {
  valves: Valve[];
  cell: number;
};

function Row({ table, crank, unit, valves, cell, labelsDeg, below }: RowProps) {
  const line = useRef<HTMLDivElement>(null);
  const onScreen = useOnScreen(line);
  return (
    <div className="valve-line" ref={line}>
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
            labelsDeg={labelsDeg}
            below={below}
            still={!onScreen}
          />
        ))}
      </ol>
    </div>
  );
}

/** From the back to the front. */
const PARTS = ["rod", "spring", "stem", "head", "follower", "adjuster"] as const;
const UNKNOWN = {
  kind: "overhead-rocker",
  part: "rocker",
  wiggles: true,
  cam_in_sight: true,
  push: "",
  assumed: true,
  bridged: false,
  seat: "",
};

type CellProps = Pick<ValveRowProps, "table" | "crank" | "unit" | "labelsDeg" | "below"> & {
  valve: Valve;
  width: number;
  /** Out of sight: nothing is painted until it comes back. */
  still: boolean;
};

function Cell({ table, crank, unit, valve, width, labelsDeg, below, still }: CellProps) {
  const cell = useRef<HTMLLIElement>(null);
  const parts = useRef<SVGGElement>(null);
  const lobe = useRef<SVGPathElement>(null);
  const chip = useRef<HTMLSpanElement>(null);
  const margin = useRef<HTMLSpanElement>(null);
  const fullMm = table.engine.specs.find((spec) => spec.role === valve.role)?.lift_mm ?? 1;
  const nominalMm = Math.max(...(table.roles[valve.role]?.gap_mm ?? [1]));
  const arm = Math.min(34, width / 2 - 12);
  const narrow = width < 84;
  const train = table.engine.trains[valve.role] ?? UNKNOWN;
  const gear = gearOf(train);
  const ownLobe = gear.lobe?.(arm);
  const pivot = gear.pivot?.(arm);
  const openDeg = useMemo(() => fullyOpenDeg(table, valve.role), [table, valve]);
  const sense = table.engine.rotation === "clockwise" ? 1 : -1;

  useWords(crank, (_deg, cam) => {
    if (still) return;
    const now = valveNow(table, valve, labelsDeg ?? cam);
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
    if (ownLobe) {
      const past = cycleDeg(cylinderOf(table, valve.cylinder), cam) - openDeg;
      const step = 2 * LOBE_STEP_DEG;
      const turned = lobeTurn(ownLobe, Math.round(past / step) * step, sense);
      if (lobe.current?.getAttribute("transform") !== turned) {
        lobe.current?.setAttribute("transform", turned);
      }
    }
    const down = inSteps((now.liftMm / fullMm) * TRAVEL);
    const up = inSteps((now.gapMm / nominalMm) * GAP);
    // On its heel a valve stands still, and most of them are on it.
    const said = labelsDeg === undefined ? now : valveNow(table, valve, labelsDeg);
    const looks = `${down} ${up} ${said.state} ${said.settable} ${width}`;
    if (painted.current === looks) return;
    painted.current = looks;
    const drawn = gear.draw({ arm, down, up }, train);
    for (const part of parts.current?.children ?? []) {
      part.setAttribute("d", drawn[part.getAttribute("data-part") as keyof typeof drawn]);
    }
    if (cell.current && cell.current.dataset.state !== said.state) {
      cell.current.dataset.state = said.state;
      cell.current.dataset.settable = String(said.settable);
    }
  });

  return (
    <li ref={cell} className={`cell ${valve.role}`} style={{ width }}>
      <Badge number={valve.number} role={valve.role} size={narrow ? 34 : 40} />
      <svg width={width} height={96} viewBox={`${-width / 2} 0 ${width} 96`} aria-hidden="true">
        <path className="seat" d={gear.seat(arm)} />
        {ownLobe && (
          <path
            ref={lobe}
            className="lobe"
            d={(train.kind === "positive-closing" ? closingPath(ownLobe) : "") + lobePath(ownLobe)}
          />
        )}
        <g ref={parts}>
          {PARTS.map((part) => (
            <path key={part} data-part={part} className={part} />
          ))}
        </g>
        {pivot && <circle cx={pivot.x} cy={pivot.y} r="4.5" className="pivot" />}
      </svg>
      <span ref={chip} className="chip" />
      <span ref={margin} className="figures margin" title="degrees to the edge of the heel" />
      <span className="visually-hidden">{`valve ${valve.number}${valve.label && ` ${valve.label}`}, ${valve.role}, cylinder ${valve.cylinder}`}</span>
      {below?.(valve.number)}
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

function capitalised(words: string): string {
  return words.charAt(0).toUpperCase() + words.slice(1);
}
