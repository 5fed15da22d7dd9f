/** The notepad: every valve's figures, first pass, second pass, after; and what is done. */

import { useEffect, useState } from "react";
import type { Schemas } from "../api/client";
import { FigureInput } from "../app/FigureInput";
import { figureOf } from "../app/figures";
import type { Table } from "../bench/lookup";
import type { Action, View } from "./useRun";

type Column = Extract<Action, { do: "write" }>["column"];
type Need = "closing" | "shim" | "torque" | "brake";

/** In the order in which they are filled in. Some are there only where a valve has what they hold. */
const COLUMNS: readonly { column: Column; label: string; of: string; need?: Need }[] = [
  { column: "closing", label: "Closing", of: "Closing reading", need: "closing" },
  { column: "closing-after", label: "Closing after", of: "Closing after", need: "closing" },
  { column: "first", label: "First", of: "First reading" },
  { column: "second", label: "Second", of: "Second reading" },
  { column: "settled", label: "Settled", of: "Settled figure" },
  { column: "fitted", label: "Shim fitted", of: "Shim fitted", need: "shim" },
  { column: "chosen", label: "Shim to fit", of: "Shim to fit", need: "shim" },
  { column: "after", label: "After", of: "After reading" },
  { column: "torque", label: "Torque", of: "Torque", need: "torque" },
  { column: "running", label: "Running", of: "Running reading", need: "brake" },
];

type Props = {
  table: Table;
  adjusters: Schemas["RunOut"]["adjusters"];
  view: View;
  chosen: number;
  onChoose: (valve: number) => void;
  act: (action: Action) => unknown;
};

/** What the valves of a role have, and so what is written of them. */
function needsOf({ engine }: Table, adjuster: Adjuster | undefined, role: string): Set<Need> {
  const spec = engine.specs.find((one) => one.role === role);
  return new Set<Need>([
    ...(spec?.closing ? (["closing"] as const) : []),
    ...(adjuster?.kind === "shim" ? (["shim"] as const) : []),
    ...(adjuster?.locknut_torque_nm ? (["torque"] as const) : []),
    ...(role === "brake" ? (["brake"] as const) : []),
  ]);
}

type Adjuster = Schemas["AdjusterOut"];

export function Notepad({ table, adjusters, view, chosen, onChoose, act }: Props) {
  const written = new Map(view.notes.map((note) => [`${note.valve} ${note.column}`, note.text]));
  const roles = [...new Set(table.engine.valves.map((valve) => valve.role))];
  const has = new Map(roles.map((role) => [role, needsOf(table, adjusters[role], role)]));
  const columns = COLUMNS.filter(
    ({ need }) => need === undefined || roles.some((role) => has.get(role)?.has(need)),
  );
  const done = new Set(view.valves.filter((valve) => valve.done).map((valve) => valve.valve));
  return (
    <section className="card notepad" aria-label="Notepad">
      <h2>Notepad</h2>
      <table>
        <thead>
          <tr>
            <th scope="col">Valve</th>
            {columns.map(({ column, label }) => (
              <th key={column} scope="col">
                {label}
              </th>
            ))}
            <th scope="col">Done</th>
          </tr>
        </thead>
        <tbody>
          {table.engine.valves.map(({ number, role }) => (
            <tr key={number} className={chosen === number ? `${role} here` : role}>
              <th scope="row">
                <button type="button" className="valve-name" onClick={() => onChoose(number)}>
                  {number}
                </button>
              </th>
              {columns.map(({ column, of, need }) => (
                <td key={column}>
                  {(need === undefined || has.get(role)?.has(need)) && (
                    <Figure
                      label={`${of} of valve ${number}`}
                      text={written.get(`${number} ${column}`) ?? ""}
                      differs={column === "second" && differ(written, number)}
                      onWrite={(text) => act({ do: "write", valve: number, column, text })}
                    />
                  )}
                </td>
              ))}
              <td>
                <label className="tick">
                  <input
                    type="checkbox"
                    checked={done.has(number)}
                    aria-label={`Valve ${number} done`}
                    onChange={(event) =>
                      act({ do: "done", valve: number, done: event.target.checked })
                    }
                  />
                </label>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {adjusters[roleOf(table, chosen)]?.kind === "shim" && (
        <label className="leave-it">
          <input
            type="checkbox"
            checked={written.get(`${chosen} leave`) === "no-better"}
            onChange={(event) =>
              act({
                do: "write",
                valve: chosen,
                column: "leave",
                text: event.target.checked ? "no-better" : "",
              })
            }
          />
          Leave valve {chosen} loose: no shim lands nearer
        </label>
      )}
      <p className="soft">
        All valves first, then adjust. Two passes that differ want a third look: write the figure
        you settle on.
      </p>
    </section>
  );
}

function roleOf({ engine }: Table, number: number): string {
  return engine.valves.find((valve) => valve.number === number)?.role ?? "";
}

/** Whether both passes are written, are not the same figure, and nobody has settled yet. */
function differ(written: Map<string, string>, valve: number): boolean {
  if (written.get(`${valve} settled`)) return false;
  const first = written.get(`${valve} first`);
  const second = written.get(`${valve} second`);
  if (!first || !second) return false;
  return figureOf(first) !== figureOf(second);
}

type FigureProps = {
  label: string;
  text: string;
  differs: boolean;
  onWrite: (text: string) => void;
};

function Figure({ label, text, differs, onWrite }: FigureProps) {
  const [typed, setTyped] = useState(text);
  useEffect(() => setTyped(text), [text]);
  return (
    <FigureInput
      className={differs ? "figures differs" : "figures"}
      aria-label={label}
      {...(differs && { title: "The two passes differ: measure a third time" })}
      maxLength={20}
      value={typed}
      onType={setTyped}
      onBlur={() => typed.trim() !== text && onWrite(typed.trim())}
      onKeyDown={(event) => {
        if (event.key === "Enter") event.currentTarget.blur();
      }}
    />
  );
}
