/** The engine with its cover off: every valve by its own kind, as it lies, its nut or shim, its paint mark. */
import { Badge } from "../app/Badge";
import { TRAVEL, type Train } from "../bench/gear";
import { headGroups } from "../bench/geometry";
import type { Table } from "../bench/lookup";
import { ValveSketch } from "../bench/ValveSketch";
import type { View } from "./useRun";

/** So many valves are drawn large. */
const FEW = 8;

type Props = { table: Table; view: View; chosen: number; onChoose: (valve: number) => void };

export function CoverOff({ table, view, chosen, onChoose }: Props) {
  const seen = new Map(view.valves.map((valve) => [valve.valve, valve]));
  const fullMm = Math.max(...table.engine.specs.map((spec) => spec.lift_mm));
  return (
    <section
      className={table.engine.valves.length <= FEW ? "card cover-off few" : "card cover-off"}
      aria-label="Engine, cover off"
    >
      {view.closed && <p className="notice calm">The cover is on.</p>}
      {headGroups(table.engine).map((group) => (
        <div key={group.name} className="head-row">
          {group.name && <h3>{group.name}</h3>}
          <ol>
            {group.valves.map((valve) => {
              const now = seen.get(valve.number);
              const down = ((now?.down_mm ?? 0) / fullMm) * TRAVEL;
              return (
                <li key={valve.number} className={valve.role}>
                  <button
                    type="button"
                    aria-pressed={chosen === valve.number}
                    aria-label={valveWords(valve, now)}
                    onClick={() => onChoose(valve.number)}
                  >
                    <Badge number={valve.number} role={valve.role} size={34} />
                    <Drawn train={table.engine.trains[valve.role]} now={now} down={down} />
                    <span className="cyl">cyl. {valve.cylinder}</span>
                  </button>
                </li>
              );
            })}
          </ol>
        </div>
      ))}
    </section>
  );
}

type Seen = View["valves"][number];
type DrawnProps = { train: Train | undefined; now: Seen | undefined; down: number };

function Drawn({ train, now, down }: DrawnProps) {
  if (train === undefined) return null;
  return (
    <ValveSketch
      train={train}
      down={down}
      nutLoose={now?.nut_tight === false}
      shimOut={now?.shim_out ?? false}
      done={now?.done ?? false}
    />
  );
}

function valveWords(
  valve: { number: number; role: string; cylinder: number },
  now: View["valves"][number] | undefined,
): string {
  const said = [`valve ${valve.number}, ${valve.role}, cylinder ${valve.cylinder}`];
  if (now && now.down_mm > 0) said.push(`pressed down ${now.down_mm.toFixed(1)} mm`);
  if (now?.nut_tight === false) said.push("lock nut loose");
  if (now?.shim_out) said.push("shim out");
  if (now?.closing_shim_out) said.push("closing shim out");
  if (now?.done) said.push("marked done");
  return said.join(", ");
}
