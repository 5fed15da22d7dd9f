/** The verdict: which valves may be set here, and why the others may not. */
import { type Crank, useTold } from "./crank";
import { type Line, type Table, verdict } from "./lookup";
import "./verdict.css";

export function Verdict({ table, crank }: { table: Table; crank: Crank }) {
  const told = useTold(crank, (_deg, cam) => JSON.stringify(verdict(table, cam)));
  const lines = JSON.parse(told) as Line[];
  const may = lines.filter((line) => line.settable).flatMap((line) => line.valves);
  return (
    <section className="verdict" aria-label="Verdict">
      <h2>May be set here</h2>
      <p className={may.length > 8 ? "may many" : "may"} data-testid="may-set">
        {may.length ? may.join(" ") : "none"}
      </p>
      <dl>
        {lines.map((line) => (
          <div key={line.valves.join()} data-settable={line.settable}>
            <dt>{line.valves.join(", ")}</dt>
            <dd>
              <b>cyl. {line.cylinder}</b> {line.says}
            </dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
