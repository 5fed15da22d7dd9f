/** Where the variance comes from, as one bar on an axis of per cent; each part told below it. */
import { scaleLinear } from "d3-scale";
import type { Schemas } from "../api/client";
import { Axis } from "../charts/Axis";
import { Plot } from "../charts/Plot";
import { Told } from "../charts/Told";
import { useLengths } from "./lengths";

const SOURCES = [
  { source: "valves", says: "the valves themselves" },
  { source: "students", says: "bias: differences between students" },
  { source: "students x valves", says: "students differing from valve to valve" },
  { source: "repeatability", says: "repeatability: one student measuring again" },
] as const;

const MARGIN = 14;
const BAR = 40;

export function Variance({ study }: { study: Schemas["StudyOut"] }) {
  const { write } = useLengths();
  const parts = stacked(study.components);
  return (
    <section className="card" aria-label="What spreads the readings">
      <h2>What spreads the readings: shares of the variance</h2>
      <Plot title="Share of the variance, per cent" height={BAR + 4}>
        {(width) => {
          const x = scaleLinear([0, 100], [MARGIN, width - MARGIN]);
          return (
            <>
              {parts.map(({ source, says, from, share, deviationMm }) => (
                <Told key={source} says={`${says}: ${share.toFixed(1)} %, ${write(deviationMm)}`}>
                  <rect
                    className={part(source)}
                    x={x(from)}
                    y="2"
                    width={x(from + share) - x(from)}
                    height={BAR}
                  />
                </Told>
              ))}
              <Axis side="bottom" scale={x} at={BAR + 4} title="share of the variance, %" />
            </>
          );
        }}
      </Plot>
      <ul className="study-legend">
        {parts.map(({ source, says, share, deviationMm }) => (
          <li key={source}>
            <i className={part(source)} aria-hidden="true" />
            <b className="figures">{share.toFixed(1)} %</b> {says}
            <span className="soft"> standard deviation {write(deviationMm)}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function stacked(components: readonly Schemas["ComponentOut"][]) {
  let from = 0;
  return SOURCES.map(({ source, says }) => {
    const one = components.find((component) => component.source === source);
    const share = one?.share_variance ?? 0;
    const told = { source, says, from, share, deviationMm: one?.deviation_mm ?? 0 };
    from += share;
    return told;
  });
}

const part = (source: string) => `part ${source.replaceAll(" ", "-")}`;
