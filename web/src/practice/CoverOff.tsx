/** The engine with its cover off: every rocker as it lies, its nut, its paint mark. */
import { Badge } from "../app/Badge";
import { headGroups } from "../bench/geometry";
import type { Table } from "../bench/lookup";
import type { View } from "./useRun";

const TRAVEL_PX = 16;
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
              const down = ((now?.down_mm ?? 0) / fullMm) * TRAVEL_PX;
              return (
                <li key={valve.number} className={valve.role}>
                  <button
                    type="button"
                    aria-pressed={chosen === valve.number}
                    aria-label={valveWords(valve, now)}
                    onClick={() => onChoose(valve.number)}
                  >
                    <Badge number={valve.number} role={valve.role} size={34} />
                    <svg viewBox="0 0 60 84" width="60" height="84" aria-hidden="true">
                      <path className="spring" d={spring(38 + down)} />
                      <path className="stem-top" d={`M38,${30 + down}V${44 + down}`} />
                      {!now?.shim_out && (
                        <path
                          className="rocker-arm"
                          d={`M6,${20 - down / 3}Q24,${8} 46,${20 + down}L44,${30 + down}Q24,20 8,${30 - down / 3}Z`}
                        />
                      )}
                      {now?.nut_tight !== null && (
                        <path
                          className={now?.nut_tight ? "nut" : "nut loose"}
                          d={nut(12, (now?.nut_tight ? 14 : 9) - down / 3)}
                        />
                      )}
                      {now?.done && <path className="paint" d="M20,26l8,8l16,-18" />}
                    </svg>
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

function valveWords(
  valve: { number: number; role: string; cylinder: number },
  now: View["valves"][number] | undefined,
): string {
  const said = [`valve ${valve.number}, ${valve.role}, cylinder ${valve.cylinder}`];
  if (now && now.down_mm > 0) said.push(`pressed down ${now.down_mm.toFixed(1)} mm`);
  if (now?.nut_tight === false) said.push("lock nut loose");
  if (now?.shim_out) said.push("shim out");
  if (now?.done) said.push("marked done");
  return said.join(", ");
}

function spring(top: number): string {
  let path = `M30,${top.toFixed(1)}`;
  for (let turn = 1; turn <= 5; turn++) {
    path += `L${turn % 2 ? 46 : 30},${(top + ((80 - top) * turn) / 5).toFixed(1)}`;
  }
  return path;
}

function nut(x: number, y: number): string {
  return `M${x - 7},${y - 3}h14v8h-14zM${x - 2},${y - 10}h4v7h-4z`;
}
