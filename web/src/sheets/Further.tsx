/** The further columns that a sheet may ask for at a valve: second pass, lock nut, shims. */
import type { Line } from "./draft";

type Column = { name: string; label: string; spoken: string; shim?: true };

const COLUMNS: Record<string, readonly Column[]> = {
  second: [{ name: "second", label: "2nd pass", spoken: "Second pass" }],
  nut: [
    { name: "set", label: "set to", spoken: "Gap before the nut" },
    { name: "after", label: "nut tight", spoken: "Gap with the nut tight" },
  ],
  shims: [
    { name: "shim_fitted", label: "shim fitted", spoken: "Fitted shim", shim: true },
    { name: "shim_chosen", label: "shim to fit", spoken: "Chosen shim", shim: true },
  ],
};

type Props = {
  asks: readonly string[];
  valve: number;
  line: Line;
  unit: string;
  faults: Record<string, string>;
  faultId: string;
  onChange: (part: Partial<Line>) => void;
};

export function Further({ asks, valve, line, unit, faults, faultId, onChange }: Props) {
  const columns = asks.flatMap((ask) => COLUMNS[ask] ?? []);
  if (columns.length === 0) return null;
  return (
    <div className="further">
      {columns.map((column) => (
        <label key={column.name}>
          <span>
            {column.label}, {column.shim ? "mm" : line.unit || unit}
          </span>
          <input
            className="field figures"
            inputMode="decimal"
            autoComplete="off"
            maxLength={40}
            aria-label={`${column.spoken} of valve ${valve}`}
            aria-invalid={faults[column.name] !== undefined}
            aria-describedby={faultId}
            value={line.further[column.name] ?? ""}
            onChange={(event) =>
              onChange({ further: { ...line.further, [column.name]: event.target.value } })
            }
          />
        </label>
      ))}
    </div>
  );
}
