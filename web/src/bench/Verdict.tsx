/** The verdict: which valves may be set here, and why the others may not. */
import { memo, useMemo } from "react";
import { Words } from "../app/Words";
import { type Crank, useTold } from "./crank";
import { segmentsAt, type Table, verdict } from "./lookup";
import "./verdict.css";

export function Verdict({ table, crank }: { table: Table; crank: Crank }) {
  // Between two edges of the table nothing changes, so the words are made once for each stretch.
  const places = useTold(crank, (_deg, cam) => segmentsAt(table, cam).join());
  const lines = useMemo(() => verdict(table, places.split(",").map(Number)), [table, places]);
  const may = lines.filter((line) => line.settable).flatMap((line) => line.valves);
  return (
    <section className="verdict" aria-label="Verdict">
      <h2>May be set here</h2>
      <p className={may.length > 8 ? "may many" : "may"} data-testid="may-set">
        {may.length ? may.join(" ") : "none"}
      </p>
      <dl>
        {lines.map((line) => (
          <Line
            key={line.valves[0]}
            valves={line.valves.join(", ")}
            cylinder={line.cylinder}
            says={line.says}
            settable={line.settable}
          />
        ))}
      </dl>
    </section>
  );
}

type LineProps = { valves: string; cylinder: number; says: string; settable: boolean };

const Line = memo(function Line({ valves, cylinder, says, settable }: LineProps) {
  return (
    <div data-settable={settable}>
      <dt>{valves}</dt>
      <dd>
        <b>cyl. {cylinder}</b> <Words text={says} />
      </dd>
    </div>
  );
});
