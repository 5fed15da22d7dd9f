/**
 * Fields of the editor: each shows the faults that the core finds at its place in the file.
 * Native ones: some ninety of them stand side by side, and all are drawn again at every digit.
 */
import { createContext, type ReactNode, useContext, useId } from "react";
import type { Schemas } from "../api/client";
import { WordsHere } from "../app/WordsHere";

export const Faults = createContext<Schemas["PreviewOut"]["faults"]>([]);

/** The faults at a JSON path or inside it. */
function useFaults(path: string | undefined): string[] {
  const faults = useContext(Faults);
  if (path === undefined) return [];
  return faults
    .filter(
      (f) => f.path === path || f.path.startsWith(`${path}.`) || f.path.startsWith(`${path}[`),
    )
    .map((fault) => fault.problem);
}

type TextProps = {
  label: string;
  value: string;
  onChange: (value: string) => void;
  /** Where it stands in the engine file, for its faults. */
  path?: string;
  unit?: ReactNode;
  hint?: string;
  short?: boolean;
  numeric?: boolean;
};

export function TextField({
  label,
  value,
  onChange,
  path,
  unit,
  hint,
  short = false,
  numeric = false,
}: TextProps) {
  const faults = useFaults(path);
  const id = useId();
  const input = useId();
  return (
    <div className={short ? "edit-field short" : "edit-field"}>
      <label htmlFor={input}>{label}</label>
      <span className="edit-input">
        <input
          id={input}
          className={numeric ? "field figures" : "field"}
          inputMode={numeric ? "decimal" : undefined}
          value={value}
          aria-invalid={faults.length > 0}
          aria-describedby={faults.length > 0 || hint ? id : undefined}
          onChange={(event) => onChange(event.target.value)}
        />
        {unit && <i>{unit}</i>}
      </span>
      <span id={id} className="edit-note">
        {faults.length > 0 ? <b>{faults[0]}</b> : hint}
      </span>
    </div>
  );
}

type SelectProps = {
  label: string;
  value: string;
  options: readonly (readonly [string, string])[];
  onChange: (value: string) => void;
  path?: string;
};

export function SelectField({ label, value, options, onChange, path }: SelectProps) {
  const faults = useFaults(path);
  const select = useId();
  return (
    <div className="edit-field">
      <label htmlFor={select}>{label}</label>
      <select
        id={select}
        className="field"
        value={value}
        aria-invalid={faults.length > 0}
        onChange={(event) => onChange(event.target.value)}
      >
        {options.map(([option, says]) => (
          <option key={option} value={option}>
            {says}
          </option>
        ))}
      </select>
      {faults.length > 0 && (
        <span className="edit-note">
          <b>{faults[0]}</b>
        </span>
      )}
    </div>
  );
}

type TickProps = { label: string; value: boolean; onChange: (value: boolean) => void };

export function TickField({ label, value, onChange }: TickProps) {
  return (
    <label className="edit-tick">
      <input type="checkbox" checked={value} onChange={(event) => onChange(event.target.checked)} />
      {label}
    </label>
  );
}

export function Step({
  title,
  about,
  words = "",
  children,
}: {
  title: string;
  about: string;
  /** Words of the trade in its labels. */
  words?: string;
  children: ReactNode;
}) {
  return (
    <fieldset className="card edit-step">
      <legend>{title}</legend>
      <p className="soft">{about}</p>
      <div className="edit-fields">{children}</div>
      <WordsHere texts={[about, words]} />
    </fieldset>
  );
}

/** A list whose rows can be added and taken out. */
export function Rows<Row>({
  rows,
  show,
  add,
  addSays,
  onChange,
  nameOf,
}: {
  rows: readonly Row[];
  show: (row: Row, index: number, change: (part: Partial<Row>) => void) => ReactNode;
  add: () => Row;
  addSays: string;
  onChange: (rows: Row[]) => void;
  nameOf: (row: Row, index: number) => string;
}) {
  return (
    <div className="edit-rows">
      {rows.map((row, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rows have no name of their own while typed
        <div key={index} className="edit-row">
          {show(row, index, (part) =>
            onChange(rows.map((other, at) => (at === index ? { ...other, ...part } : other))),
          )}
          <button
            type="button"
            className="button"
            aria-label={`Take out ${nameOf(row, index)}`}
            onClick={() => onChange(rows.filter((_, at) => at !== index))}
          >
            ✕
          </button>
        </div>
      ))}
      <button type="button" className="button" onClick={() => onChange([...rows, add()])}>
        {addSays}
      </button>
    </div>
  );
}
