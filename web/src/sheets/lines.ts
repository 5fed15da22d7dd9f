/** A line of a sheet as a form holds it. Pure. */
import type { Schemas } from "../api/client";

/** A line with every field at hand. */
export type Line = Required<Schemas["TypedLine"]>;

export function emptyLine(valve: number, unit: string): Line {
  return { valve, reading: "", unit, crank_deg: null, verdict: null, further: {} };
}

export function isBegun(line: Line): boolean {
  return (
    line.reading.trim() !== "" ||
    line.crank_deg !== null ||
    line.verdict !== null ||
    Object.values(line.further).some((text) => text.trim() !== "")
  );
}

/** Whether a text reads as a gap: a figure with point or comma, and perhaps its unit. */
export function isFigure(text: string): boolean {
  return /^\s*(\d+([.,]\d*)?|[.,]\d+)\s*(mm|thou|in|")?\s*$/i.test(text);
}

export function isDone(line: Line): boolean {
  return isFigure(line.reading) && line.crank_deg !== null && line.verdict !== null;
}

/** Whether two lines say the same; a unit without a figure says nothing. */
export function same(one: Line, other: Line): boolean {
  return said(one) === said(other);
}

function said(line: Line): string {
  const further = Object.entries(line.further).filter(([, text]) => text !== "");
  return JSON.stringify([
    line.reading === "" ? "" : [line.reading, line.unit],
    line.crank_deg,
    line.verdict,
    further.sort(),
  ]);
}
