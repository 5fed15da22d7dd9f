/** What clearance does: one valve at another clearance, and set in the wrong place. */

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { effectQuery, setHereQuery } from "../api/queries";
import { FigureInput } from "../app/FigureInput";
import { Failure } from "../app/feedback";
import { figureOf } from "../app/figures";
import { beside, degrees, inOtherUnit, MM_PER_THOU, mm, thou } from "../app/lengths";
import type { Unit } from "../app/session";
import { useWidth } from "../charts/useWidth";
import { type Crank, useTold } from "./crank";
import { polyline } from "./geometry";
import { cylinderOf, type Table, type Valve, valveNow } from "./lookup";
import { DegScale, MmScale } from "./Scales";
import "./clearance.css";

type Effect = Schemas["EffectOut"];

type Props = {
  engineId: number;
  version: number | null;
  table: Table;
  crank: Crank;
  unit: Unit;
};

export function ClearanceView({ engineId, version, table, crank, unit }: Props) {
  const [number, setNumber] = useState(table.engine.valves[0]?.number ?? 1);
  const valve = table.engine.valves.find((v) => v.number === number) ?? table.engine.valves[0];
  const spec = table.engine.specs.find((s) => s.role === valve?.role);
  const [typed, setTyped] = useState<string | null>(null);
  const middle = spec ? (spec.low_mm + spec.high_mm) / 2 : 0.3;
  const gap = typed ?? inUnit(middle, unit);
  const effect = useQuery({
    ...effectQuery(engineId, version, number, gap, unit),
    placeholderData: keepPreviousData,
  });
  if (valve === undefined) return null;
  return (
    <section className={`card clearance-view ${valve.role}`} aria-label="What clearance does">
      <header className="overlap-head">
        <div>
          <label htmlFor="clearance-valve" className="soft">
            Valve
          </label>{" "}
          <select
            id="clearance-valve"
            className="field"
            value={number}
            onChange={(event) => {
              setNumber(Number(event.target.value));
              setTyped(null);
            }}
          >
            {table.engine.valves.map((v) => (
              <option key={v.number} value={v.number}>
                {v.number}, {v.role} of cylinder {v.cylinder}
              </option>
            ))}
          </select>
        </div>
        <GapField gap={gap} unit={unit} mostMm={2 * middle + 0.2} onGap={setTyped} />
      </header>
      {effect.isError && <Failure error={effect.error} retry={() => effect.refetch()} />}
      {effect.data && (
        <div className="effect">
          <Lifts effect={effect.data} role={valve.role} />
          <Figures effect={effect.data} spec={specOf(table, valve)} />
        </div>
      )}
      <SetHere
        key={`${number} ${gap}`}
        engineId={engineId}
        version={version}
        table={table}
        crank={crank}
        valve={valve}
        gap={gap}
        unit={unit}
      />
    </section>
  );
}

type GapFieldProps = { gap: string; unit: Unit; mostMm: number; onGap: (gap: string) => void };

function GapField({ gap, unit, mostMm, onGap }: GapFieldProps) {
  const perUnit = unit === "mm" ? 1 : MM_PER_THOU;
  const figure = figureOf(gap) ?? 0;
  return (
    <div className="gap-field">
      <label htmlFor="clearance-gap">Clearance</label>
      <FigureInput id="clearance-gap" value={gap} onType={onGap} />
      <span>
        {unit} <span className="soft">{inOtherUnit(gap, unit)}</span>
      </span>
      <input
        type="range"
        aria-label={`Clearance in ${unit}`}
        min={0}
        max={(mostMm / perUnit).toFixed(unit === "mm" ? 2 : 0)}
        step={unit === "mm" ? 0.01 : 0.5}
        value={figure}
        onChange={(event) => onGap(event.target.value)}
      />
    </div>
  );
}

const HEIGHT = 212;
const BASE = 158;
const LIFT_PX = 130;
const GAP_PX = 34;

/** Both lifts over the cycle, and the gap under them, drawn larger so that it can be seen. */
function Lifts({ effect, role }: { effect: Effect; role: string }) {
  const [frame, width] = useWidth<HTMLDivElement>();
  const { nominal_curve: nominal, changed_curve: changed } = effect;
  const from = nominal.cycle_deg[0] ?? 0;
  const to = nominal.cycle_deg.at(-1) ?? 720;
  const x = (deg: number) => ((deg - from) / Math.max(1, to - from)) * width;
  const full = Math.max(...nominal.lift_mm, ...changed.lift_mm, 0.1);
  const widest = Math.max(...nominal.gap_mm, ...changed.gap_mm, 0.1);
  const lift = (mmUp: number) => BASE - (mmUp / full) * LIFT_PX;
  const gap = (mmGap: number) => BASE - (mmGap / widest) * GAP_PX;
  const larger = GAP_PX / widest / (LIFT_PX / full);
  return (
    <div ref={frame} className={`lifts ${role}`}>
      {width > 0 && (
        <svg width={width} height={HEIGHT} role="img" aria-label="Lift and gap over the cycle">
          <path d={`M0,${BASE}H${width}`} className="grid strong" />
          <MmScale fullMm={full} width={width} baseline={BASE} height={LIFT_PX} />
          <DegScale fromDeg={from} toDeg={to} width={width} baseline={BASE} down={46} />
          <path
            d={polyline(nominal.cycle_deg, nominal.lift_mm, x, lift)}
            className="nominal-lift"
          />
          <path
            d={polyline(changed.cycle_deg, changed.lift_mm, x, lift)}
            className="changed-lift"
          />
          <path d={polyline(changed.cycle_deg, changed.gap_mm, x, gap)} className="gap-line" />
          {effect.changed && (
            <>
              <OpenClose
                nominal={x(unwrapped(effect.nominal.opens_cycle_deg, from))}
                changed={x(unwrapped(effect.changed.opens_cycle_deg, from))}
                says="opens"
              />
              <OpenClose
                nominal={x(unwrapped(effect.nominal.closes_cycle_deg, from))}
                changed={x(unwrapped(effect.changed.closes_cycle_deg, from))}
                says="closes"
              />
            </>
          )}
        </svg>
      )}
      <p className="soft legend">
        <i className="key-nominal" /> nominal <i className="key-changed" /> as set{" "}
        <i className="key-gap" /> gap, drawn {larger.toFixed(0)} times as large; degrees of the
        cylinder's cycle
      </p>
    </div>
  );
}

function OpenClose({ nominal, changed, says }: { nominal: number; changed: number; says: string }) {
  return (
    <g className="open-close">
      <path d={`M${nominal},${BASE}v-12`} className="was" />
      <path d={`M${changed},${BASE}v-20`} />
      <text x={changed} y={BASE + 20} textAnchor="middle">
        {says}
      </text>
    </g>
  );
}

/** A cycle angle as it lies on a curve that begins at `from` and may run past 720. */
function unwrapped(deg: number, from: number): number {
  return deg < from ? deg + 720 : deg;
}

type Spec = Schemas["SpecOut"];

function specOf(table: Table, valve: Valve): Spec | undefined {
  return table.engine.specs?.find((one) => one.role === valve.role);
}

function Figures({ effect, spec }: { effect: Effect; spec: Spec | undefined }) {
  const { nominal, changed } = effect;
  const length = spec?.written_in === "thou" ? thou : mm;
  const rows: [string, (opening: Schemas["OpeningOut"]) => string][] = [
    ["Clearance", (o) => (spec ? beside(o.clearance_mm, spec) : length(o.clearance_mm))],
    ["Opens at", (o) => degrees(o.opens_cycle_deg % 720)],
    ["Closes at", (o) => degrees(o.closes_cycle_deg % 720)],
    ["Open for", (o) => degrees(o.duration_deg)],
    ["Full lift", (o) => length(o.lift_mm)],
  ];
  return (
    <div className="effect-figures" role="status">
      <table>
        <thead>
          <tr>
            <th scope="col">On its cycle</th>
            <th scope="col">nominal</th>
            <th scope="col">as set</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(([name, show]) => (
            <tr key={name}>
              <th scope="row">{name}</th>
              <td className="figures">{show(nominal)}</td>
              <td className="figures">{changed ? show(changed) : "never"}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {effect.says.map((sentence) => (
        <p key={sentence}>{sentence}</p>
      ))}
    </div>
  );
}

type SetHereProps = Props & { valve: Valve; gap: string };

/** The demonstration: set the valve where the crank stands, then look at it on the heel. */
function SetHere({ engineId, version, table, crank, valve, gap, unit }: SetHereProps) {
  const [setAt, setSetAt] = useState<number | null>(null);
  const [looked, setLooked] = useState(false);
  const outcome = useQuery({
    ...setHereQuery(engineId, version, valve.number, gap, unit, setAt ?? 0),
    enabled: setAt !== null,
  });
  const here = useTold(crank, (_deg, cam) => valveNow(table, valve, cam).says);
  const spec = specOf(table, valve);
  const length = (value: number) => {
    const other = spec?.written_in === "thou" ? mm(value) : thou(value);
    return `${spec ? beside(value, spec) : mm(value)} (${other})`;
  };

  function lookOnHeel() {
    const margins = table.roles[valve.cycle]?.margin_deg ?? [];
    const best = margins.indexOf(Math.max(...margins));
    crank.set(best + cylinderOf(table, valve.cylinder).fire_deg);
    setLooked(true);
  }

  return (
    <div className="set-here">
      <h3>Set in the wrong place</h3>
      <p>
        Turn the crank where you like. Valve {valve.number} is now: <b>{here}</b>.
      </p>
      <div className="set-here-ways">
        <button
          type="button"
          className="button"
          onClick={() => {
            setSetAt(crank.camDeg);
            setLooked(false);
          }}
        >
          Set it to {gap} {unit} here
        </button>
        <button type="button" className="button" disabled={setAt === null} onClick={lookOnHeel}>
          Turn to its heel and measure
        </button>
      </div>
      {outcome.isError && <Failure error={outcome.error} />}
      <p role="status" className="set-outcome">
        {setAt !== null && outcome.data && !looked && (
          <>
            Set to {length(outcome.data.set_mm)} at {degrees(setAt)}. Is it right? Turn to its heel.
          </>
        )}
        {outcome.data && looked && (
          <>
            On the heel it measures <b className="figures">{length(outcome.data.true_mm)}</b>.{" "}
            {outcome.data.says}
          </>
        )}
      </p>
    </div>
  );
}

function inUnit(lengthMm: number, unit: Unit): string {
  // The very figure: 10 thou are 0.254 mm, and 0.25 would be called tight by a hair.
  const hundredths = lengthMm.toFixed(2);
  const exact = Math.abs(Number(hundredths) - lengthMm) < 1e-6;
  if (unit === "mm") return exact ? hundredths : String(Number(lengthMm.toFixed(4)));
  return String(Number((lengthMm / MM_PER_THOU).toFixed(1)));
}
