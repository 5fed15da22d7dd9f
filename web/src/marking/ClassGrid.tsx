/**
 * Students by valves. A table of our own: sixty sheets of twenty-four valves are 1,440 cells, drawn
 * once; the arrows move among them, and what one says stands above, so that nothing is redrawn.
 */
import { type CSSProperties, type KeyboardEvent, memo, useRef } from "react";
import { Link } from "react-router";
import { Badge } from "../app/Badge";
import { beside } from "../app/lengths";
import { lettersOf, type Row, STATES, stateOf, tallyOf, type View } from "./classView";

type Props = {
  view: View;
  rows: readonly Row[];
  onLook: (row: Row, at: number) => void;
};

export const ClassGrid = memo(function ClassGrid({ view, rows, onLook }: Props) {
  const table = useRef<HTMLTableElement>(null);
  const letters = lettersOf(view);
  const unit = unitOf(view);
  const look = (target: EventTarget) => {
    const cell = (target as HTMLElement).closest<HTMLElement>("[data-cell]");
    const [row, at] = placeOf(cell);
    const found = rows[row];
    if (found) onLook(found, at);
  };
  return (
    <div className="class-scroll">
      <table
        ref={table}
        className="class-grid"
        style={{ "--valves": view.valves.length } as CSSProperties}
        onFocus={({ target }) => look(target)}
        onClick={({ target }) => (target as HTMLElement).closest<HTMLElement>("td")?.focus()}
        onKeyDown={(event) => move(event, table.current)}
      >
        <thead>
          <tr>
            <th scope="col">
              Student <span>and the key{unit && `, ${unit}`}</span>
            </th>
            {view.valves.map((valve) => (
              <th key={valve.number} scope="col" data-doubted={valve.doubted}>
                <Badge number={valve.number} role={valve.role} size={26} />
                <span className="figures">{keyOf(valve, unit)}</span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row, at) => (
            <tr key={row.hand_in_id}>
              <th scope="row">
                <Link to={`/hand-in/${row.hand_in_id}`}>{row.student}</Link>
              </th>
              {row.cells.map((cell, column) => {
                const valve = view.valves[column];
                const state = stateOf(cell);
                const why = letters.get(`${row.hand_in_id}-${valve?.number}`);
                return (
                  <td
                    key={valve?.number}
                    data-cell={`${at}-${column}`}
                    data-state={state}
                    data-doubted={valve?.doubted}
                    data-why={why}
                    aria-label={why ? `${STATES[state].says}, ${why}` : STATES[state].says}
                    tabIndex={at === 0 && column === 0 ? 0 : -1}
                  >
                    {STATES[state].sign}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
        <tfoot>
          <tr>
            <th scope="row">Not right, of those written</th>
            {view.valves.map((valve, at) => {
              const { wrong, read } = tallyOf(rows, at);
              return (
                <td key={valve.number} className="figures" data-doubted={valve.doubted}>
                  {wrong}/{read}
                </td>
              );
            })}
          </tr>
        </tfoot>
      </table>
    </div>
  );
});

/** The unit of all its specs; empty where they differ, and each key says its own. */
function unitOf({ valves }: View): string {
  const [one, ...more] = new Set(valves.map((valve) => valve.written_in));
  return more.length === 0 ? (one ?? "") : "";
}

function keyOf(valve: View["valves"][number], unit: string): string {
  const key = beside(valve.key_mm, valve);
  return unit ? key.replace(` ${unit}`, "") : key;
}

function placeOf(cell: HTMLElement | null): [number, number] {
  const [row, at] = (cell?.dataset.cell ?? "-1--1").split("-").map(Number);
  return [row ?? -1, at ?? -1];
}

const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
};

function move(event: KeyboardEvent, table: HTMLTableElement | null) {
  const step = STEPS[event.key];
  const cell = (event.target as HTMLElement).closest<HTMLElement>("[data-cell]");
  if (!step || !cell) return;
  const [row, at] = placeOf(cell);
  const next = `${row + step[0]}-${at + step[1]}`;
  table?.querySelector<HTMLElement>(`[data-cell="${next}"]`)?.focus();
  event.preventDefault();
}
