/** The engine's own valves, in their order and as they stand; tapped where they are the answer. */
import type { Schemas } from "../api/client";
import { Badge } from "../app/Badge";
import { TRAVEL } from "../bench/gear";
import { ValveSketch } from "../bench/ValveSketch";

type Drawing = Schemas["BareOut"];
type Props = {
  drawing: Drawing;
  /** Ids of those that can be chosen; none where the valves are only looked at. */
  choices: ReadonlySet<string>;
  given: readonly string[];
  right: readonly string[] | null;
  isOpen: boolean;
  onChoose: (id: string) => void;
};

export function BareValves({ drawing, choices, given, right, isOpen, onChoose }: Props) {
  const sense = drawing.clockwise ? 1 : -1;
  return (
    <ol className="bare-valves">
      {drawing.valves.map((valve) => {
        const id = String(valve.number);
        const train = drawing.trains[valve.role];
        const look = (
          <>
            <Badge number={valve.number} role={valve.role} size={32} />
            {train && (
              <ValveSketch
                train={train}
                size={44}
                down={valve.down * TRAVEL}
                lobe={valve.lobe_deg === null ? undefined : { past: valve.lobe_deg, sense }}
              />
            )}
            <small>cyl {valve.cylinder}</small>
            {right?.includes(id) && <b className="is-right">✓ right</b>}
          </>
        );
        return (
          <li key={valve.number} className={valve.role}>
            {choices.has(id) ? (
              <button
                type="button"
                className="bare-valve"
                aria-label={`valve ${valve.number}, ${valve.role}, cylinder ${valve.cylinder}${right?.includes(id) ? ", right" : ""}`}
                aria-pressed={given.includes(id)}
                disabled={!isOpen}
                onClick={() => onChoose(id)}
              >
                {look}
              </button>
            ) : (
              <span className="bare-valve">{look}</span>
            )}
          </li>
        );
      })}
    </ol>
  );
}
