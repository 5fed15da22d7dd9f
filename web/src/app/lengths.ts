/** Writing lengths and angles for people: the reader's own unit first, the other beside it. */
import { figureOf } from "./figures";
import type { Unit } from "./session";

export const MM_PER_THOU = 0.0254;

const trim = (text: string) => (text.includes(".") ? text.replace(/\.?0+$/, "") : text);

export function mm(length: number): string {
  return `${length.toFixed(2)} mm`;
}

export function thou(lengthMm: number): string {
  return `${trim((lengthMm / MM_PER_THOU).toFixed(1))} thou`;
}

type Limits = { low_mm: number; high_mm: number; written_in: string };

/**
 * A gap beside its spec: in the spec's own unit, with as many digits as it takes to show on which
 * side of a limit it lies.
 */
export function beside(lengthMm: number, { low_mm, high_mm, written_in }: Limits): string {
  const scale = written_in === "thou" ? MM_PER_THOU : 1;
  const length = Math.round((lengthMm / scale) * 1e6) / 1e6;
  const limits = [low_mm, high_mm].map((limit) => Math.round((limit / scale) * 1e6) / 1e6);
  const [least, most] = written_in === "thou" ? [1, 3] : [2, 4];
  for (let digits = least; digits < most; digits++) {
    const shown = Number(length.toFixed(digits));
    if (limits.every((limit) => Math.sign(shown - limit) === Math.sign(length - limit)))
      return `${length.toFixed(digits)} ${written_in}`;
  }
  return `${length.toFixed(most)} ${written_in}`;
}

/** A crank angle: whole degrees as such, others with one decimal. */
export function degrees(angle: number): string {
  return `${trim(angle.toFixed(1))}°`;
}

/** What the other unit would say for a figure as it is typed; empty while it is no number. */
export function inOtherUnit(typed: string, unit: Unit): string {
  const figure = figureOf(typed);
  if (figure === null) return "";
  return unit === "mm" ? thou(figure) : mm(figure * MM_PER_THOU);
}
