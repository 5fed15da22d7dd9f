/** The paper grid without a screen: what digits mean, and where the next cell is. */
import type { Schemas } from "../api/client";

type Further = Schemas["ColumnOut"];
export type Column = { valve: number } & (
  | { field: "reading" | "stop" | "verdict" }
  | { field: "further"; of: Further }
);
export type Cells = Record<string, string>;

/** 4, 5 and 6 lie side by side on a ten-key pad, as tight, within and loose lie about the spec. */
export const VERDICT_KEYS: Record<string, string> = { "4": "tight", "5": "within", "6": "loose" };
export const READING_DIGITS = 2;

/** What is typed of each valve, besides its gap. */
export type Typed = { stops: boolean; verdicts: boolean; further: readonly Further[] };

export function columnsOf(valves: readonly number[], typed: Typed): Column[] {
  return valves.flatMap((valve) => [
    { valve, field: "reading" as const },
    ...(typed.stops ? [{ valve, field: "stop" as const }] : []),
    ...(typed.verdicts ? [{ valve, field: "verdict" as const }] : []),
    ...typed.further.map((of) => ({ valve, field: "further" as const, of })),
  ]);
}

/** The column's field of a line, as the server names it. */
export function fieldOf(column: Column): string {
  return column.field === "further" ? column.of.name : column.field;
}

export function cellKey(studentId: number, column: Column): string {
  return `${studentId}-${column.valve}-${fieldOf(column)}`;
}

/** Whether two digits are a length here. A shim's thickness is written whole: 2.55. */
export function isGap(column: Column): boolean {
  return column.field === "reading" || (column.field === "further" && column.of.holds === "gap");
}

export function isChoice(column: Column): column is Column & { field: "further" } {
  return column.field === "further" && column.of.holds === "choice";
}

/** Answers are typed by the figures that the paper has them under. */
function choiceOf(column: Column & { field: "further" }, typed: string): string | undefined {
  return column.of.options[Number(typed) - 1]?.value;
}

/** Whether a cell has all it can hold, so that the next one gets the focus. */
export function isFull(column: Column, typed: string, stops: number): boolean {
  if (isGap(column)) return new RegExp(`^[0-9]{${READING_DIGITS}}$`).test(typed);
  if (column.field === "verdict") return typed in VERDICT_KEYS;
  if (isChoice(column)) return choiceOf(column, typed) !== undefined;
  return column.field === "stop" && /^[0-9]$/.test(typed) && stops < 10;
}

/** `35` is 0.35 mm or 35 thou: two digits are hundredths of a millimetre. Others stand as typed. */
export function readingOf(typed: string, unit: string): string {
  const digits = typed.trim();
  return unit === "mm" && /^[0-9]{1,2}$/.test(digits) ? `0.${digits.padStart(2, "0")}` : digits;
}

/** The sheets that were begun, as the server takes them. */
export function sheetsOf(
  cells: Cells,
  students: readonly number[],
  columns: readonly Column[],
  unit: string,
  stops: readonly Schemas["StopChoice"][],
): Schemas["PaperSheetIn"][] {
  const sheets = students.map((student_id) => {
    const lines = new Map<number, Schemas["TypedLine"]>();
    for (const column of columns) {
      const typed = (cells[cellKey(student_id, column)] ?? "").trim();
      if (typed === "") continue;
      const line = lines.get(column.valve) ?? { valve: column.valve, reading: "", unit };
      if (column.field === "reading") line.reading = readingOf(typed, unit);
      if (column.field === "verdict") line.verdict = VERDICT_KEYS[typed] ?? typed;
      if (column.field === "stop") {
        const stop = stops.find((one) => String(one.stop) === typed);
        // Crank degrees may be written as well; what is neither is refused by the server.
        line.crank_deg = stop ? stop.crank_deg : Number(typed);
      }
      if (column.field === "further") {
        const text = isGap(column) ? readingOf(typed, unit) : (choiceOf(column, typed) ?? typed);
        line.further = { ...line.further, [column.of.name]: text };
      }
      lines.set(column.valve, line);
    }
    return { student_id, lines: [...lines.values()] };
  });
  return sheets.filter((sheet) => sheet.lines.length > 0);
}
