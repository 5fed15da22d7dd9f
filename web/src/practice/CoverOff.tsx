/** The engine with its cover off: every valve by its own kind, as it lies, its nut or shim, its paint mark. */
import { Badge } from "../app/Badge";
import { GAP, gearOf, TRAVEL, type Train } from "../bench/gear";
import { headGroups } from "../bench/geometry";
import type { Table } from "../bench/lookup";
import type { View } from "./useRun";

const ARM = 17;
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
                    <ValveDrawn train={table.engine.trains[valve.role]} now={now} down={down} />
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

type DrawnProps = {
  train: Train | undefined;
  now: View["valves"][number] | undefined;
  down: number;
};

function ValveDrawn({ train, now, down }: DrawnProps) {
  if (train === undefined) return null;
  const gear = gearOf(train);
  const drawn = gear.draw({ arm: ARM, down, up: down > 0 ? 0 : GAP }, train);
  const pivot = gear.pivot?.(ARM);
  return (
    <svg viewBox="-32 0 64 92" width="60" height="84" aria-hidden="true">
      <path className="push-rod" d={drawn.rod} />
      <path className="spring" d={drawn.spring} />
      <path className="stem-top" d={drawn.stem} />
      <path className="rocker-arm" d={drawn.follower} />
      {pivot && <circle cx={pivot.x} cy={pivot.y} r="3.5" className="nut" />}
      {!now?.shim_out && (
        <path
          className={now?.nut_tight === false ? "nut loose" : "nut"}
          transform={now?.nut_tight === false ? "translate(0,-5)" : undefined}
          d={drawn.adjuster}
        />
      )}
      {now?.done && <path className="paint" d="M-10,26l8,8l16,-18" />}
    </svg>
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
