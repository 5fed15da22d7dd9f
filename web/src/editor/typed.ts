/** Figures and texts as they are typed into the editor. */
import { figureOf } from "../app/figures";

export const text = (value: unknown) =>
  value === undefined || value === null ? "" : String(value);

/** A figure as a number, or the text itself where it is none, or nothing where it is empty. */
export function figure(typed: string): number | string | undefined {
  const trimmed = typed.trim().replace("−", "-");
  if (trimmed === "") return undefined;
  return figureOf(trimmed) ?? typed;
}
