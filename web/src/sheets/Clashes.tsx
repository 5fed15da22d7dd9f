/** What two devices wrote in one place: both are shown, and the person chooses. */
import type { Schemas } from "../api/client";
import type { Clash } from "./draft";
import type { Line } from "./lines";

export function Clashes({ clashes, columns, line, onChange }: Props) {
  return clashes.map((clash) => (
    <p key={clash.field} className="clash">
      Another device wrote <b className="figures">{clash.theirs || "nothing"}</b> as the{" "}
      {fieldName(clash.field, columns)}; here it was{" "}
      <b className="figures">{clash.mine || "nothing"}</b>.{" "}
      <button type="button" className="button" onClick={() => onChange(partOf(clash, line))}>
        Write {clash.mine || "nothing"}
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

function fieldName(field: string, columns: Props["columns"]): string {
  const name = field.replace("further.", "");
  return FIELD_NAMES[name] ?? columns.find((column) => column.name === name)?.title ?? name;
}

/** What this device had, as a change of the line that stands now. */
function partOf({ field, line: mine }: Clash, now: Line): Partial<Line> {
  if (field === "reading") return { reading: mine.reading, unit: mine.unit };
  if (field === "crank_deg") return { crank_deg: mine.crank_deg };
  if (field === "verdict") return { verdict: mine.verdict };
  const name = field.replace("further.", "");
  return { further: { ...now.further, [name]: mine.further[name] ?? "" } };
}
