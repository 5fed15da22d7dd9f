/** Bias and repeatability of a student's readings on each sheet: dots with bars about the line of none. */

import { scaleLinear, scalePoint } from "d3-scale";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { thou } from "../app/lengths";
import { day } from "../app/school";
import { Axis } from "../charts/Axis";
import { Plot } from "../charts/Plot";
import { Told } from "../charts/Told";
import { type DataColumn, DataTable } from "../kit/DataTable";

type Hand = Schemas["HandOnSheetOut"];

const HEIGHT = 240;
const LEFT = 82;
const MARGIN = 16;
const LEAST_STEP = 84;
const LEAST_REACH_MM = 0.04;
const NOTHING_MM = 0.0005;

const COLUMNS: readonly DataColumn<Hand>[] = [
  {
    title: "Sheet",
    show: (hand) => <Link to={`/hand-in/${hand.ref}`}>{hand.title}</Link>,
    find: (hand) => hand.title,
  },
  { title: "Handed in", show: (hand) => day(hand.at), sort: (hand) => hand.at },
  { title: "Bias", right: true, show: (hand) => bias(hand.bias_mm), sort: (hand) => hand.bias_mm },
  {
    title: "Scatter",
    right: true,
    show: (hand) =>
      hand.repeatability_mm === null ? "–" : `${hand.repeatability_mm.toFixed(3)} mm`,
    sort: (hand) => hand.repeatability_mm,
  },
  {
    title: "Slips of the pen",
    right: true,
    show: (hand) => (hand.slips === 0 ? "none" : hand.slips),
    sort: (hand) => hand.slips,
  },
];

export function HandChart({ hands }: { hands: readonly Hand[] }) {
  return (
    <div className="hand-chart">
      <Chart hands={hands} />
      <DataTable label="Sheet by sheet" rows={hands} keyOf={(hand) => hand.ref} columns={COLUMNS} />
      <p className="soft">
        Bias: the median of reading less key over the valves of that sheet. Scatter: 1.48 times the
        median distance from it, which no single slip moves. Open a sheet for its figures.
      </p>
    </div>
  );
}

function Chart({ hands }: { hands: readonly Hand[] }) {
  const reach = reachMm(hands);
  const titles = new Map(hands.map((hand) => [hand.ref, hand.title]));
  const y = scaleLinear([-reach, reach], [HEIGHT, 8]).nice();
  return (
    <figure className="card">
      <Plot title="Bias, sheet by sheet" height={HEIGHT} least={LEFT + hands.length * LEAST_STEP}>
        {(width) => {
          const refs = hands.map(({ ref }) => ref);
          const x = scalePoint(refs, [LEFT, width - MARGIN]).padding(0.6);
          return (
            <>
              <line className="zero" x1={LEFT} x2={width - MARGIN} y1={y(0)} y2={y(0)} />
              {hands.map((hand) => (
                <OnSheet key={hand.ref} hand={hand} x={x(hand.ref) ?? 0} y={y} />
              ))}
              <Axis side="left" scale={y} at={LEFT} ticks={5} title="tight ← bias, mm → loose" />
              <Axis
                side="bottom"
                scale={x}
                at={HEIGHT}
                title="sheets, in the order handed in"
                write={(ref) => short(titles.get(ref) ?? "")}
              />
            </>
          );
        }}
      </Plot>
    </figure>
  );
}

function OnSheet({ hand, x, y }: { hand: Hand; x: number; y: (mm: number) => number }) {
  if (hand.bias_mm === null) return null;
  const spread = hand.repeatability_mm ?? 0;
  return (
    <Told
      says={`${hand.title}, ${day(hand.at)}: bias ${bias(hand.bias_mm)}, repeatability ${spread.toFixed(3)} mm`}
    >
      <rect className="under" x={x - 22} y="8" width="44" height={HEIGHT - 8} />
      <line
        className="spread"
        x1={x}
        x2={x}
        y1={y(hand.bias_mm + spread)}
        y2={y(hand.bias_mm - spread)}
      />
      <circle cx={x} cy={y(hand.bias_mm)} r="6" />
    </Told>
  );
}

function reachMm(hands: readonly Hand[]): number {
  return Math.max(
    LEAST_REACH_MM,
    ...hands.map((hand) => Math.abs(hand.bias_mm ?? 0) + (hand.repeatability_mm ?? 0)),
  );
}

const LETTERS = 11;

function short(title: string): string {
  return title.length > LETTERS ? `${title.slice(0, LETTERS - 1)}…` : title;
}

function bias(mm: number | null): string {
  if (mm === null) return "–";
  if (Math.abs(mm) < NOTHING_MM) return "none";
  const size = Math.abs(mm);
  return `${size.toFixed(3)} mm (${thou(size)}) ${mm < 0 ? "tight" : "loose"}`;
}
