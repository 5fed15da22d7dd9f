/** Lengths in one unit, with or without a sign, and as figures of an axis. */
import { thou } from "../app/lengths";
import { type Unit, useUnit } from "../app/session";

const MM_PER_THOU = 0.0254;
const NOTHING_MM = 0.0005;

export type Lengths = {
  unit: Unit;
  write: (lengthMm: number) => string;
  signed: (lengthMm: number) => string;
  /** A length as the figure on an axis in that unit. */
  figure: (lengthMm: number) => number;
};

export function useLengths(): Lengths {
  return lengthsIn(useUnit());
}

/** In one unit, whoever reads it: beside a spec, in that of its manual. */
export function lengthsIn(unit: Unit): Lengths {
  const write = (lengthMm: number) =>
    unit === "mm" ? `${lengthMm.toFixed(3)} mm` : thou(lengthMm);
  return {
    unit,
    write,
    signed: (lengthMm) => {
      const sign = Math.abs(lengthMm) < NOTHING_MM ? "" : lengthMm < 0 ? "−" : "+";
      return sign + write(Math.abs(lengthMm));
    },
    figure: (lengthMm) => (unit === "mm" ? lengthMm : lengthMm / MM_PER_THOU),
  };
}
