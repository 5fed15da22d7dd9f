/** The class as a measuring instrument: what spreads its readings, whose hand, which valve. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useParams } from "react-router";
import type { Schemas } from "../api/client";
import { studyQuery } from "../api/queries";
import { Badge } from "../app/Badge";
import { ListTable } from "../app/ListTable";
import { thou } from "../app/lengths";
import { useUnit } from "../app/session";
import "./study.css";

type Study = Schemas["StudyOut"];

const SOURCES: Record<string, string> = {
  repeatability: "one hand repeating itself",
  students: "differences between hands",
  "students x valves": "hands differing from valve to valve",
  valves: "the valves themselves",
};
const PARTS = ["valves", "students", "students x valves", "repeatability"];

export default function StudyPage() {
  const { standId = "" } = useParams();
  const { data: study } = useSuspenseQuery(studyQuery(Number(standId)));
  useEffect(() => {
    document.title = `${study.stand} · Gauge study · Edrix`;
  }, [study]);
  return (
    <article className="study">
      <div className="place-head">
        <div>
          <p>
            <Link to={`/classes/${study.class_id}/stands`}>{study.stand}</Link>
          </p>
          <h1>The class as an instrument</h1>
          <p>
            {study.engine}: {study.students} students, {study.valves} valves, {study.trials.length}{" "}
            trials ({study.trials.join(" · ")})
          </p>
        </div>
      </div>
      {study.left_out.length > 0 && (
        <p className="notice">
          Left out: {study.left_out.map(({ student, why }) => `${student} (${why})`).join("; ")}.
        </p>
      )}
      <section className="card says-it">
        <p className="categories">
          <b className="figures">{study.categories}</b> categories told apart
        </p>
        <ul>
          {study.says.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      </section>
      <Spread study={study} />
      <Hands study={study} />
      <Hardest study={study} />
      <Analysis study={study} />
    </article>
  );
}

/** Where the variance comes from, as one bar; each part told below it. */
function Spread({ study }: { study: Study }) {
  const lengths = useLengths();
  const of = new Map(study.components.map((one) => [one.source, one]));
  let from = 0;
  return (
    <section className="card" aria-label="What spreads the readings">
      <h2>What spreads the readings</h2>
      <svg viewBox="0 0 1000 44" preserveAspectRatio="none" className="spread" aria-hidden="true">
        {PARTS.map((source) => {
          const width = 10 * (of.get(source)?.share_variance ?? 0);
          const x = from;
          from += width;
          return (
            <rect key={source} className={part(source)} x={x} y="0" width={width} height="44" />
          );
        })}
      </svg>
      <ul className="legend">
        {PARTS.map((source) => {
          const one = of.get(source);
          return (
            <li key={source}>
              <i className={part(source)} aria-hidden="true" />
              <b className="figures">{one?.share_variance.toFixed(1)} %</b> {SOURCES[source]}
              <span className="soft figures"> {lengths(one?.deviation_mm ?? 0)}</span>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

const part = (source: string) => `part ${source.replaceAll(" ", "-")}`;

/** Each hand's bias against the key with its interval, and its spread as a band. */
function Hands({ study }: { study: Study }) {
  const lengths = useLengths();
  const far = Math.max(
    0.02,
    ...study.hands.flatMap((hand) => [
      Math.abs(hand.bias_low_mm),
      Math.abs(hand.bias_high_mm),
      Math.abs(hand.bias_mm) + hand.spread_mm,
    ]),
  );
  const x = (mm: number) => 300 + (mm / far) * 280;
  return (
    <section className="card" aria-label="Hands">
      <h2>Whose hand leans, whose scatters</h2>
      <p className="soft">
        The dot is how far a hand reads from the key, the line is where the truth lies in 95 of 100
        studies; the thick band is one spread of the same hand repeating itself.
      </p>
      <ul className="hands">
        {study.hands.map((hand) => (
          <li key={hand.student}>
            <span>{hand.student}</span>
            <svg viewBox="0 0 600 34" preserveAspectRatio="none" aria-hidden="true">
              <path className="zero" d="M300,0V34" />
              <path
                className="band"
                d={`M${x(hand.bias_mm - hand.spread_mm)},17H${x(hand.bias_mm + hand.spread_mm)}`}
              />
              <path
                className="interval"
                d={`M${x(hand.bias_low_mm)},17H${x(hand.bias_high_mm)}M${x(hand.bias_low_mm)},9v16M${x(hand.bias_high_mm)},9v16`}
              />
              <circle cx={x(hand.bias_mm)} cy="17" r="5" className="dot" />
            </svg>
            <span className="figures">
              {signed(hand.bias_mm, lengths)}{" "}
              <span className="soft">±{lengths(hand.spread_mm)}</span>
            </span>
            <span className="figures soft">
              {hand.kappa === null ? "" : `κ ${hand.kappa.toFixed(2)}`}
            </span>
          </li>
        ))}
      </ul>
      <p className="soft">
        κ is how far verdicts agree with the key beyond chance; 1 is always.
        {study.kappa_together !== null &&
          ` All together: κ ${study.kappa_together.toFixed(2)} (Fleiss).`}
      </p>
    </section>
  );
}

function Hardest({ study }: { study: Study }) {
  const lengths = useLengths();
  const most = Math.max(...study.hardest.map((valve) => valve.spread_mm), 0.001);
  return (
    <section className="card" aria-label="Hardest valves">
      <h2>Hardest valves</h2>
      <ul className="hardest">
        {study.hardest.map((valve) => (
          <li key={valve.valve}>
            <Badge number={valve.valve} role={valve.role} size={34} />
            <svg viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">
              <rect width={(100 * valve.spread_mm) / most} height="10" className="filled" />
            </svg>
            <span className="figures">{lengths(valve.spread_mm)}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Analysis({ study }: { study: Study }) {
  return (
    <details className="card">
      <summary>The analysis of variance</summary>
      <ListTable
        label="Analysis of variance"
        rows={study.anova}
        keyOf={(row) => row.source}
        columns={[
          { title: "Source", show: (row) => row.source },
          { title: "Degrees of freedom", right: true, show: (row) => row.df },
          { title: "Sum of squares, µm²", right: true, show: (row) => row.ss_um2.toFixed(1) },
          { title: "Mean square, µm²", right: true, show: (row) => row.ms_um2.toFixed(1) },
          { title: "F", right: true, show: (row) => row.f?.toFixed(2) ?? "" },
          { title: "p", right: true, show: (row) => row.p?.toPrecision(2) ?? "" },
        ]}
      />
      <p className="soft">
        Crossed random effects; components from the expected mean squares, negative ones taken as
        zero. {study.pooled && "The interaction is pooled into repeatability."} Intervals: Student's
        t for the bias, chi squared for the spread.
      </p>
    </details>
  );
}

function useLengths(): (mm: number) => string {
  const unit = useUnit();
  return (lengthMm) => (unit === "mm" ? `${lengthMm.toFixed(3)} mm` : thou(lengthMm));
}

function signed(lengthMm: number, lengths: (mm: number) => string): string {
  const sign = Math.abs(lengthMm) < 0.0005 ? "" : lengthMm < 0 ? "−" : "+";
  return sign + lengths(Math.abs(lengthMm));
}
