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
      {columns.map((column) => {
        const field = {
          "aria-label": spokenOf(column, valve),
          "aria-describedby": faultId,
          wrong: faults[column.name] !== undefined,
          value: line.further[column.name] ?? "",
          onType: (typed: string) =>
            onChange({ further: { ...line.further, [column.name]: typed } }),
        };
        return column.holds === "choice" ? (
          <div key={column.name} className="further-choice">
            <span>{column.title}</span>
            <Choosing {...field} column={column} />
          </div>
        ) : (
          <label key={column.name}>
            <span>
              {column.title}, {column.holds === "shim" ? "mm" : line.unit || unit}
            </span>
            <FigureInput {...field} />
          </label>
        );
      })}
    </div>
  );
}

type ChoosingProps = {
  "aria-label": string;
  "aria-describedby": string;
  column: Schemas["ColumnOut"];
  wrong: boolean;
  value: string;
  onType: (value: string) => void;
};

/** One of the column's answers, or none of them. */
function Choosing({ column, wrong, value, onType, ...rest }: ChoosingProps) {
  return (
    <select
      {...rest}
      className="field"
      aria-invalid={wrong}
      value={value}
      onChange={(event) => onType(event.target.value)}
    >
      <option value="">{column.nothing}</option>
      {column.options.map((option) => (
        <option key={option.value} value={option.value}>
          {option.title}
        </option>
      ))}
    </select>
  );
}

function spokenOf(column: Schemas["ColumnOut"], valve: number): string {
  const words = column.spoken.replace(/^the /, "");
  return `${words.charAt(0).toUpperCase()}${words.slice(1)}, valve ${valve}`;
}
