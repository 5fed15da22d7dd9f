/** The further columns that a sheet asks for at a valve, as the server names them. */

import type { Schemas } from "../api/client";
import { FigureInput } from "../app/FigureInput";
import type { Line } from "./lines";

type Props = {
  columns: readonly Schemas["ColumnOut"][];
  valve: number;
  line: Line;
  unit: string;
  faults: Record<string, string>;
  faultId: string;
  onChange: (part: Partial<Line>) => void;
};

export function Further({ columns, valve, line, unit, faults, faultId, onChange }: Props) {
  if (columns.length === 0) return null;
  return (
    <div className="further">
      {columns.map((column) => (
        <label key={column.name}>
          <span>
            {column.title}, {column.holds === "shim" ? "mm" : line.unit || unit}
          </span>
          <FigureInput
            aria-label={spokenOf(column, valve)}
            wrong={faults[column.name] !== undefined}
            aria-describedby={faultId}
            value={line.further[column.name] ?? ""}
            onType={(typed) => onChange({ further: { ...line.further, [column.name]: typed } })}
          />
        </label>
      ))}
    </div>
  );
}

function spokenOf(column: Schemas["ColumnOut"], valve: number): string {
  const words = column.spoken.replace(/^the /, "");
  return `${words.charAt(0).toUpperCase()}${words.slice(1)}, valve ${valve}`;
}
