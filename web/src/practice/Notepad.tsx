/** The notepad: every valve's figures, first pass, second pass, after; and what is done. */

import { useEffect, useState } from "react";
import { FigureInput } from "../app/FigureInput";
import { figureOf } from "../app/figures";
import type { Table } from "../bench/lookup";
import type { Action, View } from "./useRun";

const COLUMNS = [
  ["first", "First"],
  ["second", "Second"],
  ["after", "After"],
] as const;
/** Only brake rockers have a running range to be proved. */
const RUNNING = ["running", "Running"] as const;
/** Valves that are pulled shut have a second gap, which is measured and set first. */
const CLOSING = [
  ["closing", "Closing"],
  ["closing-after", "Closing after"],
] as const;

type Props = {
  table: Table;
  view: View;
  chosen: number;
  onChoose: (valve: number) => void;
  act: (action: Action) => unknown;
};

export function Notepad({ table, view, chosen, onChoose, act }: Props) {
  const written = new Map(view.notes.map((note) => [`${note.valve} ${note.column}`, note.text]));
  const brakes = table.engine.valves.some((valve) => valve.role === "brake");
  const closing = new Set(table.engine.specs.filter((spec) => spec.closing).map((s) => s.role));
  const columns = [...(closing.size > 0 ? CLOSING : []), ...COLUMNS, ...(brakes ? [RUNNING] : [])];
  const done = new Set(view.valves.filter((valve) => valve.done).map((valve) => valve.valve));
  return (
    <section className="card notepad" aria-label="Notepad">
      <h2>Notepad</h2>
      <table>
        <thead>
          <tr>
            <th scope="col">Valve</th>
            {columns.map(([column, label]) => (
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
              {columns.map(([column, label]) => (
                <td key={column}>
                  {(column !== "running" || role === "brake") &&
                    (!column.startsWith("closing") || closing.has(role)) && (
                      <Figure
                        label={`${label} reading of valve ${number}`}
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
      <p className="soft">
        All valves first, then adjust. Two passes that differ want a third look.
      </p>
    </section>
  );
}

/** Whether both passes are written and are not the same figure. */
function differ(written: Map<string, string>, valve: number): boolean {
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
