/** Leaves and stacks in words, and where a leaf stands under a finger. Pure. */
import { mm, thou } from "../app/lengths";
import type { Unit } from "../app/session";

/** A stack's sum in both units, the person's own first. */
export function sumWords(leavesUm: readonly number[], unit: Unit): string {
  const sumMm = leavesUm.reduce((sum, leaf) => sum + leaf, 0) / 1000;
  const inMm = Number.isInteger(Math.round(sumMm * 1e6) / 1e4)
    ? mm(sumMm)
    : `${sumMm.toFixed(3)} mm`;
  return unit === "mm" ? `${inMm} · ${thou(sumMm)}` : `${thou(sumMm)} · ${inMm}`;
}

/** A step leaf by its tip and its body, in both units. */
export function stepWords(tipUm: number, bodyUm: number, unit: Unit): string {
  const inMm = `${(tipUm / 1000).toFixed(2)}/${(bodyUm / 1000).toFixed(2)} mm`;
  const inThou = `${leafWord(tipUm, "thou")}/${leafWord(bodyUm, "thou")} thou`;
  return unit === "mm" ? `${inMm} · ${inThou}` : `${inThou} · ${inMm}`;
}

export function leafWord(leafUm: number, unit: Unit): string {
  if (unit === "thou") return thou(leafUm / 1000).replace(" thou", "");
  return (leafUm / 1000).toFixed(leafUm % 10 === 0 ? 2 : 3);
}

/** Adds a leaf to the stack in the hand, or takes it out again. */
export function toggled(stack: readonly number[], leafUm: number, stacking: boolean): number[] {
  if (!stacking) return [leafUm];
  if (stack.includes(leafUm)) {
    const rest = stack.filter((leaf) => leaf !== leafUm);
    return rest.length ? rest : [leafUm];
  }
  return [...stack, leafUm].slice(-6);
}

/** The next thicker or thinner single leaf of the box. */
export function neighbour(box: readonly number[], leafUm: number, by: 1 | -1): number {
  const sorted = [...box].sort((one, other) => one - other);
  const at = sorted.findIndex((leaf) => leaf >= leafUm);
  const from = at < 0 ? sorted.length - 1 : at;
  return sorted[Math.max(0, Math.min(sorted.length - 1, from + by))] ?? leafUm;
}

/** Where the gap begins, from where the leaf lies at rest; in units of the drawing. */
export const GATE_PX = 52;
/** Where the far side of a bridge begins. */
export const FAR_PX = 128;
const DEEP_PX = 130;

/**
 * How far a leaf is in when the finger has moved so far: free it follows, dragging it follows
 * less and in small sticks and slips, forced it creeps, and refused it stands at the gap.
 */
export function leafPx(fingerPx: number, pull: number | null, gatePx = GATE_PX): number {
  if (fingerPx <= gatePx || pull === null) return Math.min(fingerPx, gatePx);
  if (pull >= 1) return gatePx;
  const along = (fingerPx - gatePx) * (1 - 0.9 * pull);
  const stick = 1 + pull * 9;
  return Math.min(GATE_PX + DEEP_PX, gatePx + Math.floor(along / stick) * stick);
}

/** How far a refused leaf bends up. */
export function bendPx(fingerPx: number, pull: number | null, gatePx = GATE_PX): number {
  return pull !== null && pull >= 1 ? Math.min(34, Math.max(0, fingerPx - gatePx) * 0.35) : 0;
}

/** A leaf pushed in across its line: from below it is skewed, from above its tip is caught. */
export function howEntered(acrossPx: number): "straight" | "skewed" | "tip" {
  if (Math.abs(acrossPx) <= GATE_PX * 0.5) return "straight";
  return acrossPx < 0 ? "skewed" : "tip";
}
