/** How far a hand leans and scatters on each sheet: dots with bars about the line of no lean. */
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { thou } from "../app/lengths";

type Hand = Schemas["HandOnSheetOut"];

const STEP = 90;
const HEIGHT = 200;
const MIDDLE = HEIGHT / 2;
const LEAST_REACH_MM = 0.04;

export function HandChart({ hands }: { hands: readonly Hand[] }) {
  const told = hands.filter((hand) => hand.lean_mm !== null);
  const reach = Math.max(
    LEAST_REACH_MM,
    ...told.map((hand) => Math.abs(hand.lean_mm ?? 0) + (hand.scatter_mm ?? 0)),
  );
  const y = (mm: number) => MIDDLE - (mm / reach) * (MIDDLE - 14);
  const width = Math.max(3, hands.length) * STEP + 60;
  return (
    <figure className="card hand-chart">
      <div className="paper-scroll">
        <svg viewBox={`0 0 ${width} ${HEIGHT + 8}`} width={width} height={HEIGHT + 8} role="img">
          <title>Lean of the hand, sheet by sheet</title>
          <text x="0" y="16">
            loose
          </text>
          <text x="0" y={HEIGHT - 4}>
            tight
          </text>
          <line className="zero" x1="46" x2={width} y1={MIDDLE} y2={MIDDLE} />
          {hands.map((hand, place) => {
            const x = 60 + place * STEP + STEP / 2;
            if (hand.lean_mm === null) return null;
            const scatter = hand.scatter_mm ?? 0;
            return (
              <g key={hand.ref}>
                <line
                  className="scatter"
                  x1={x}
                  x2={x}
                  y1={y(hand.lean_mm + scatter)}
                  y2={y(hand.lean_mm - scatter)}
                />
                <circle cx={x} cy={y(hand.lean_mm)} r="6" />
              </g>
            );
          })}
        </svg>
      </div>
      <table className="hands">
        <thead>
          <tr>
            <th scope="col">Sheet</th>
            <th scope="col">Leans by</th>
            <th scope="col">Scatters by</th>
            <th scope="col">Slips of writing</th>
          </tr>
        </thead>
        <tbody>
          {hands.map((hand) => (
            <tr key={hand.ref}>
              <th scope="row">
                <Link to={`/hand-in/${hand.ref}`}>{hand.title}</Link>,{" "}
                <span className="soft">
                  {new Date(hand.at).toLocaleDateString([], { dateStyle: "medium" })}
                </span>
              </th>
              <td className="figures">{lean(hand.lean_mm)}</td>
              <td className="figures">
                {hand.scatter_mm === null ? "–" : `${hand.scatter_mm.toFixed(3)} mm`}
              </td>
              <td>{hand.slips === 0 ? "none" : hand.slips}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="soft">
        Leans by: the median of reading less key over the valves of that sheet. Scatters by: 1.48
        times the median distance from it, which no single slip moves. Open a sheet for its figures.
      </p>
    </figure>
  );
}

function lean(mm: number | null): string {
  if (mm === null) return "–";
  if (Math.abs(mm) < 0.0005) return "nothing";
  const size = Math.abs(mm);
  return `${size.toFixed(3)} mm (${thou(size)}) ${mm < 0 ? "tight" : "loose"}`;
}
