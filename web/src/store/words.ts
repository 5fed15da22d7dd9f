/** How the store's figures and moves are said. */
import type { Schemas } from "../api/client";

export type Stock = Schemas["StockOut"];
export type HeldShim = Schemas["HeldOut"];
export type ShimMove = Schemas["StoreMoveOut"];

const WHYS: Record<string, string> = {
  in: "came in",
  out: "went out",
  counted: "counted",
  fitted: "fitted",
  back: "came back",
};

/** `2.45`: two decimals, three where the third says something. */
export function size(mm: string): string {
  const figure = Number(mm);
  const three = figure.toFixed(3);
  return three.endsWith("0") ? figure.toFixed(2) : three;
}

export function moved(move: ShimMove): string {
  const where = move.stand
    ? `, ${move.stand}${move.valve === null ? "" : ` valve ${move.valve}`}`
    : "";
  const note = move.note ? `: ${move.note}` : "";
  return `${Math.abs(move.change)} of ${size(move.size_mm)} mm ${WHYS[move.why] ?? move.why}${where}${note}`;
}
