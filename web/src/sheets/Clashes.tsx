/** What two devices wrote in one place: both are shown, and the person chooses. */
import type { Schemas } from "../api/client";
import { toldOf } from "../app/columns";
import type { Clash } from "./draft";
import type { Line } from "./lines";

export function Clashes({ clashes, columns, line, onChange }: Props) {
  return clashes.map((clash) => (
    <p key={clash.field} className="clash">
      Another device wrote <b className="figures">{told(clash.theirs, clash, columns)}</b> as the{" "}
      {fieldName(clash.field, columns)}; here it was{" "}
      <b className="figures">{told(clash.mine, clash, columns)}</b>.{" "}
      <button type="button" className="button" onClick={() => onChange(partOf(clash, line))}>
        Write {told(clash.mine, clash, columns)}
      </button>
    </p>
  ));
}

type Props = {
  clashes: readonly Clash[];
  columns: readonly Schemas["ColumnOut"][];
  line: Line;
  onChange: (part: Partial<Line>) => void;
};
const FIELD_NAMES: Record<string, string> = {
  reading: "gap",
  crank_deg: "stop",
  verdict: "verdict",
};

function columnOf(field: string, columns: Props["columns"]) {
  return columns.find((column) => column.name === field.replace("further.", ""));
}

function fieldName(field: string, columns: Props["columns"]): string {
  return FIELD_NAMES[field] ?? columnOf(field, columns)?.title ?? field;
}

function told(text: string, { field }: Clash, columns: Props["columns"]): string {
  const column = columnOf(field, columns);
  return (column ? toldOf(column, text) : text) || "nothing";
}

/** What this device had, as a change of the line that stands now. */
function partOf({ field, line: mine }: Clash, now: Line): Partial<Line> {
  if (field === "reading") return { reading: mine.reading, unit: mine.unit };
  if (field === "crank_deg") return { crank_deg: mine.crank_deg };
  if (field === "verdict") return { verdict: mine.verdict };
  const name = field.replace("further.", "");
  return { further: { ...now.further, [name]: mine.further[name] ?? "" } };
}
