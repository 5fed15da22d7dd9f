/** The valves on which readings spread most, as bars on an axis of lengths. */
import { scaleLinear } from "d3-scale";
import type { Schemas } from "../api/client";
import { Axis } from "../charts/Axis";
import { Plot } from "../charts/Plot";
import { Told } from "../charts/Told";
import { useLengths } from "./lengths";

const ROW = 34;
const NAMES = 150;
const MARGIN = 18;
const LEAST_MM = 0.001;

export function Hardest({ study }: { study: Schemas["StudyOut"] }) {
  const lengths = useLengths();
  const most = lengths.figure(Math.max(LEAST_MM, ...study.hardest.map((one) => one.spread_mm)));
  const height = study.hardest.length * ROW;
  return (
    <section className="card" aria-label="Hardest valves">
      <h2>Hardest valves</h2>
      <Plot
        title={`Spread of the readings by valve, ${lengths.unit}`}
        height={height}
        className="hardest"
      >
        {(width) => {
          const x = scaleLinear([0, most], [NAMES, width - MARGIN]).nice();
          return (
            <>
              {study.hardest.map((valve, row) => (
                <Told
                  key={valve.valve}
                  says={`Valve ${valve.valve}, ${valve.role}: ${lengths.write(valve.spread_mm)}`}
                >
                  <rect className="under" x="0" y={row * ROW} width={width} height={ROW} />
                  <text className="name" x="0" y={row * ROW + ROW / 2 + 5}>
                    {valve.valve} {valve.role}
                  </text>
                  <rect
                    className="filled"
                    x={x(0)}
                    y={row * ROW + 6}
                    width={x(lengths.figure(valve.spread_mm)) - x(0)}
                    height={ROW - 12}
                  />
                </Told>
              ))}
              <Axis
                side="bottom"
                scale={x}
                at={height}
                title={`spread of the readings, ${lengths.unit}`}
              />
            </>
          );
        }}
      </Plot>
    </section>
  );
}
