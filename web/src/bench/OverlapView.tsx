/** Companions side by side: one in overlap, the other at firing TDC. */
import { useMemo, useRef, useState } from "react";
import { degrees } from "../app/lengths";
import { useWidth } from "../charts/useWidth";
import { type Crank, usePaint, useTold } from "./crank";
import { liftCurve } from "./geometry";
import {
  type Cylinder,
  cycleDeg,
  cylinderOf,
  normalise,
  sampled,
  type Table,
  valveNow,
} from "./lookup";
import { DegScale, MmScale } from "./Scales";
import { rocked } from "./turning";
import "./overlap.css";

type Overlap = Table["overlaps"][number];
type Found = Overlap & {
  overlap_deg: number;
  starts_deg: number;
  centre_deg: number;
  ends_deg: number;
};

const REACH_DEG = 48;
const HEIGHT = 194;
const BASE = 136;
const TOP = 30;

type Props = { table: Table; crank: Crank; rocking: boolean; onRock: () => void };

export function OverlapView({ table, crank, rocking, onRock }: Props) {
  const found = table.overlaps.filter((o): o is Found => o.starts_deg !== null);
  const [chosen, setChosen] = useState(() => nearest(found, crank.deg)?.cylinder ?? 0);
  const overlap = found.find((o) => o.cylinder === chosen);
  if (overlap === undefined) return <NoOverlap table={table} />;
  const cylinder = cylinderOf(table, overlap.cylinder);
  const companion = cylinder.companion === null ? null : cylinderOf(table, cylinder.companion);
  return (
    <section className="card overlap-view" aria-label="Overlap">
      <header className="overlap-head">
        <div>
          <label htmlFor="overlap-cylinder" className="soft">
            In overlap: cylinder
          </label>{" "}
          <select
            id="overlap-cylinder"
            className="field"
            value={overlap.cylinder}
            onChange={(event) => setChosen(Number(event.target.value))}
          >
            {found.map((o) => (
              <option key={o.cylinder} value={o.cylinder}>
                {o.cylinder}
              </option>
            ))}
          </select>
        </div>
        <button type="button" className="button" onClick={() => crank.set(overlap.centre_deg)}>
          To its centre
        </button>
        <button type="button" className="button" aria-pressed={rocking} onClick={onRock}>
          {rocking ? "Stop" : "Rock"}
        </button>
        <OverlapFacts overlap={overlap} />
      </header>
      <div className="companions">
        <Side table={table} crank={crank} cylinder={cylinder} overlap={overlap} rocks />
        {companion ? (
          <Side table={table} crank={crank} cylinder={companion} overlap={overlap} />
        ) : (
          <p className="soft alone">
            Cylinder {overlap.cylinder} has no companion on this engine: no other fires 360° from
            it.
          </p>
        )}
      </div>
      <RockNote table={table} crank={crank} />
    </section>
  );
}

function OverlapFacts({ overlap }: { overlap: Found }) {
  const past = overlap.centre_past_tdc_deg ?? 0;
  return (
    <p className="overlap-facts">
      <b className="figures">{degrees(overlap.overlap_deg)}</b> of overlap: from{" "}
      <b className="figures">{degrees(overlap.starts_deg)}</b> (intake opens) to{" "}
      <b className="figures">{degrees(overlap.ends_deg)}</b> (exhaust shuts), centre{" "}
      <b className="figures">{degrees(overlap.centre_deg)}</b>,{" "}
      {Math.abs(past) < 0.05
        ? "at the dead centre"
        : `${degrees(Math.abs(past))} ${past > 0 ? "past" : "before"} the dead centre`}
      .
    </p>
  );
}

type SideProps = {
  table: Table;
  crank: Crank;
  cylinder: Cylinder;
  overlap: Found;
  rocks?: boolean;
};

/** One cylinder's lifts around the overlap of the pair, with the crank as a line. */
function Side({ table, crank, cylinder, overlap, rocks = false }: SideProps) {
  const [frame, width] = useWidth<HTMLDivElement>();
  const cursor = useRef<SVGPathElement>(null);
  const px = width / (2 * REACH_DEG);
  const x = (deg: number) => (fromCentre(overlap, deg) + REACH_DEG) * px;
  const roles = useMemo(() => {
    const used = table.engine.valves.filter((v) => v.cylinder === cylinder.cylinder);
    return [...new Set(used.map((v) => v.role))];
  }, [table, cylinder]);
  const fullMm = useMemo(() => highest(table, roles, overlap), [table, roles, overlap]);

  usePaint(crank, (_deg, cam) => {
    const at = Math.max(-REACH_DEG, Math.min(REACH_DEG, fromCentre(overlap, cam)));
    cursor.current?.setAttribute("transform", `translate(${((at + REACH_DEG) * px).toFixed(1)},0)`);
  });
  const told = useTold(crank, (_deg, cam) => sideWords(table, cylinder, cam));

  return (
    <figure>
      <figcaption>
        <b>Cylinder {cylinder.cylinder}</b> <span className="side-says">{told}</span>
      </figcaption>
      <div ref={frame}>
        {width > 0 && (
          <svg width={width} height={HEIGHT} aria-hidden="true">
            {rocks && (
              <rect
                x={x(overlap.starts_deg)}
                y={TOP}
                width={overlap.overlap_deg * px}
                height={BASE - TOP}
                className="overlap-band"
              />
            )}
            <path d={`M0,${BASE}H${width}`} className="grid strong" />
            <MmScale fullMm={fullMm} width={width} baseline={BASE} height={BASE - TOP} />
            <DegScale
              fromDeg={overlap.centre_deg - REACH_DEG}
              toDeg={overlap.centre_deg + REACH_DEG}
              width={width}
              baseline={BASE}
              down={46}
            />
            {roles.map((role) => (
              <path
                key={role}
                className={`lift-line ${role}`}
                d={liftCurve(
                  table.roles[role]?.lift_mm ?? [],
                  cycleDeg(cylinder, overlap.centre_deg - REACH_DEG),
                  { width, spanDeg: 2 * REACH_DEG, baseline: BASE, height: BASE - TOP, fullMm },
                )}
              />
            ))}
            <DeadCentre x={x(tdcOf(cylinder, rocks))} says={rocks ? "TDC" : "firing TDC"} />
            {rocks && (
              <>
                <Tick x={x(overlap.starts_deg)} says={degrees(overlap.starts_deg)} end />
                <Tick x={x(overlap.ends_deg)} says={degrees(overlap.ends_deg)} />
              </>
            )}
            <path ref={cursor} d={`M0,${TOP - 8}V${BASE + 8}`} className="crank-line" />
          </svg>
        )}
      </div>
    </figure>
  );
}

/** The highest lift within reach of the overlap, in the cylinder that is in it. */
function highest(table: Table, roles: readonly string[], overlap: Found): number {
  const from = cycleDeg(cylinderOf(table, overlap.cylinder), overlap.centre_deg - REACH_DEG);
  let most = 0.1;
  for (const role of roles) {
    const lifts = table.roles[role]?.lift_mm ?? [];
    for (let deg = 0; deg <= 2 * REACH_DEG; deg += 4) {
      most = Math.max(most, sampled(lifts, from + deg));
    }
  }
  return most;
}

function DeadCentre({ x, says }: { x: number; says: string }) {
  return (
    <g className="dead-centre">
      <path d={`M${x},${TOP - 6}V${BASE}`} />
      <text x={x} y={TOP - 12} textAnchor="middle">
        {says}
      </text>
    </g>
  );
}

function Tick({ x, says, end = false }: { x: number; says: string; end?: boolean }) {
  return (
    <g className="overlap-tick">
      <path d={`M${x},${BASE}v10`} />
      <text x={end ? x - 4 : x + 4} y={BASE + 24} textAnchor={end ? "end" : "start"}>
        {says}
      </text>
    </g>
  );
}

function RockNote({ table, crank }: { table: Table; crank: Crank }) {
  const told = useTold(crank, (_deg, cam) => {
    const { forward, back } = rocked(table, cam);
    const said = [];
    if (forward.length) said.push(`A little forward presses ${listed(forward)} down.`);
    if (back.length) said.push(`A little back presses ${listed(back)} down.`);
    return said.join(" ") || "Rocking here presses no valve down.";
  });
  return (
    <p className="rock-note" role="status">
      {told}
    </p>
  );
}

function NoOverlap({ table }: { table: Table }) {
  const length = table.overlaps[0]?.overlap_deg;
  return (
    <section className="card overlap-view" aria-label="Overlap">
      <h2>No overlap on this engine</h2>
      <p>
        {typeof length === "number"
          ? `The exhaust shuts ${degrees(-length)} before the intake opens, so there is nothing to rock in.`
          : "A cylinder without both an intake and an exhaust valve has no overlap."}
      </p>
    </section>
  );
}

function nearest(found: readonly Found[], deg: number): Found | undefined {
  return [...found].sort((a, b) => Math.abs(fromCentre(a, deg)) - Math.abs(fromCentre(b, deg)))[0];
}

/** Degrees from the overlap's centre to a place, the short way round. */
function fromCentre(overlap: Found, deg: number): number {
  return normalise(deg - overlap.centre_deg + 360) - 360;
}

function tdcOf(cylinder: Cylinder, inOverlap: boolean): number {
  return normalise(cylinder.fire_deg + (inOverlap ? 360 : 0));
}

function sideWords(table: Table, cylinder: Cylinder, deg: number): string {
  const said = new Map<string, string>();
  for (const valve of table.engine.valves) {
    if (valve.cylinder === cylinder.cylinder) {
      said.set(valve.role, valveNow(table, valve, deg).says);
    }
  }
  return [...said].map(([role, says]) => `${role} ${says}`).join(", ");
}

function listed(numbers: readonly number[]): string {
  return numbers.length > 1 ? `valves ${numbers.join(", ")}` : `valve ${numbers[0]}`;
}
