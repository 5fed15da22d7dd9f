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

type Limits = {
  low_mm: number;
  high_mm: number;
  low_thou: number;
  high_thou: number;
  written_in: string;
  nominal_mm?: number | null;
  shop?: string;
};

/**
 * A spec as two texts, the person's own unit first; one that is printed in thou has those first,
 * as they are printed. One figure without a tolerance names its leaf and what the shop allows.
 */
export function spec(limits: Limits, unit: Unit): [string, string] {
  const inMm = `${limits.low_mm.toFixed(2)}–${limits.high_mm.toFixed(2)} mm`;
  const inThou = `${trim(limits.low_thou.toFixed(1))}–${trim(limits.high_thou.toFixed(1))} thou`;
  const inThouFirst = unit === "thou" || limits.written_in === "thou";
  const nominal = limits.nominal_mm ?? null;
  if (nominal === null) return inThouFirst ? [inThou, inMm] : [inMm, inThou];
  const shop = limits.shop ? `, ${limits.shop} by the shop` : "";
  const exact = `${trim(nominal.toFixed(4))} mm`;
  return inThouFirst
    ? [`${thou(nominal)}${shop}`, exact]
    : [`${mm(nominal)}${shop}`, thou(nominal)];
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
