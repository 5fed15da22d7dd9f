/** Outlines of what stands still in a cylinder that is cut open: walls, head, piston, springs. */
import type { Chamber, Gear } from "./sectionGeometry";

export function wall(half: number, deckY: number, radius: number): string {
  const foot = -radius * 0.6;
  return `M${-half - 1},${deckY}V${foot}M${half + 1},${deckY}V${foot}M${-half - 9},${deckY}V${foot}M${half + 9},${deckY}V${foot}`;
}

/** The head as a casting: its sides and top, a port from each valve outwards, and its guide. A side
 * valve's port lies in the block beside the bore. */
export function castingPath(
  gears: readonly Gear[],
  half: number,
  { deckY, headMm }: Chamber,
): string {
  const above = gears.filter((gear) => !gear.headUp);
  const topY = deckY - 0.62 * half * 2;
  const ports = gears.map((gear) => portPath(gear, headMm, half));
  if (above.length === 0) {
    return `M${-half - 14},${deckY}v${-0.5 * half}H${half + 14}v${0.5 * half}${ports.join("")}`;
  }
  return `M${-half - 14},${deckY}V${topY}H${half + 14}V${deckY}${ports.join("")}`;
}

function portPath({ x, seatY, headUp }: Gear, headMm: number, half: number): string {
  const out = x < 0 ? -1 : 1;
  const up = headUp ? 1 : -1;
  const [throat, far] = [headMm * 0.8, out * (half + 14)];
  const [low, high] = [seatY + up * headMm * 1.1, seatY + up * headMm * 2.4];
  const guide = `M${x - 4.5},${high}v${up * headMm * 0.9}M${x + 4.5},${high}v${up * headMm * 0.9}`;
  return (
    `M${x + out * throat},${seatY}Q${x + out * throat},${low} ${far},${low + up * headMm * 0.4}` +
    `M${x - out * throat},${seatY}Q${x - out * throat},${high} ${x + out * throat},${high}H${far}` +
    guide
  );
}

export function pistonPath(half: number, { crownMm, pistonMm }: Chamber): string {
  const [top, wide] = [-crownMm, half - 0.5];
  const rings = [6, 12, 18].map((down) => `M${-wide},${top + down}H${wide}`).join("");
  return `M${-wide},${top}H${wide}V${top + pistonMm}H${-wide}Z${rings}`;
}

export function coilPath({ x, seatY, tipY, headUp }: Gear, boreMm: number): string {
  const out = headUp ? -1 : 1;
  const [near, far] = [tipY + out * 0.12 * boreMm, seatY - out * 0.22 * boreMm];
  const half = 0.09 * boreMm;
  let path = `M${x - half},${near}`;
  for (let turn = 1; turn <= 8; turn++) {
    path += `L${turn % 2 ? x + half : x - half},${near + ((far - near) * turn) / 8}`;
  }
  return path;
}
