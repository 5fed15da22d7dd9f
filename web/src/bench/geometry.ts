/** The Bench's shapes as pure functions: numbers in, SVG paths out. */
import { CYCLE_DEG, type Cylinder, cycleDeg, normalise, type Segment, sampled } from "./lookup";

/** Low rows are drawn with fewer points: nobody sees more in them. */
const STEP_DEG = 3;
const LOW_STEP_DEG = 8;
const LOW_PX = 20;

/** The lift of one role over a row of the ribbon, as a closed area on its baseline. */
export function liftArea(
  values: readonly number[],
  cylinder: Cylinder,
  box: { width: number; baseline: number; height: number; fullMm: number },
): string {
  const points: string[] = [];
  const step = box.height < LOW_PX ? LOW_STEP_DEG : STEP_DEG;
  for (let deg = 0; deg <= CYCLE_DEG; deg += step) {
    const lift = sampled(values, cycleDeg(cylinder, deg));
    const y = box.baseline - (lift / box.fullMm) * box.height;
    points.push(`${((deg / CYCLE_DEG) * box.width).toFixed(1)},${y.toFixed(1)}`);
  }
  return `M0,${box.baseline}L${points.join("L")}L${box.width},${box.baseline}Z`;
}

export type Strip = { x: number; width: number; state: string };

/** A role's states along a row, joined where the same state goes on, cut at the row's end. */
export function stateStrips(
  segments: readonly Segment[],
  cylinder: Cylinder,
  role: string,
  width: number,
): Strip[] {
  const px = width / CYCLE_DEG;
  const strips: Strip[] = [];
  const inRow = segments
    .flatMap((segment) =>
      cutAtRowEnd(segment.from_deg + cylinder.fire_deg, segment.to_deg - segment.from_deg).map(
        (piece) => ({ ...piece, segment }),
      ),
    )
    .sort((a, b) => a.from - b.from);
  for (const { from, to, segment } of inRow) {
    const state = segment.roles[role]?.state ?? "heel";
    const last = strips.at(-1);
    if (last && last.state === state) last.width = to * px - last.x;
    else strips.push({ x: from * px, width: (to - from) * px, state });
  }
  return strips;
}

/** A stretch of the cycle as it lies in a row from 0 to 720: in two pieces if it runs over. */
function cutAtRowEnd(start: number, length: number) {
  const from = normalise(start);
  const to = from + length;
  if (to <= CYCLE_DEG + 1e-9) return [{ from, to: Math.min(to, CYCLE_DEG) }];
  return [
    { from, to: CYCLE_DEG },
    { from: 0, to: to - CYCLE_DEG },
  ];
}

const STROKES = ["power", "exhaust", "intake", "compression"];

/** Where each stroke lies in a row, for the names. */
export function strokePieces(fireDeg: number) {
  return STROKES.flatMap((stroke, index) =>
    cutAtRowEnd(fireDeg + index * 180, 180).map((piece) => ({ ...piece, stroke })),
  );
}

/** A point on a circle, `deg` clockwise from the top. */
export function onCircle(cx: number, cy: number, radius: number, deg: number) {
  const t = (deg * Math.PI) / 180;
  return { x: cx + radius * Math.sin(t), y: cy - radius * Math.cos(t) };
}

/** Ticks of a degree wheel: every ten degrees, longer every thirty. */
export function ticks(cx: number, cy: number, radius: number): string {
  let path = "";
  for (let deg = 0; deg < 360; deg += 10) {
    const from = onCircle(cx, cy, radius, deg);
    const to = onCircle(cx, cy, radius - (deg % 30 === 0 ? 12 : 6), deg);
    path += `M${from.x.toFixed(1)},${from.y.toFixed(1)}L${to.x.toFixed(1)},${to.y.toFixed(1)}`;
  }
  return path;
}

/** Splits valves into rows that leave each at least `least` pixels, cylinders kept whole. */
export function rowsOf<T extends { cylinder: number }>(
  valves: readonly T[],
  width: number,
  least: number,
): T[][] {
  if (width === Number.POSITIVE_INFINITY) return [[...valves]];
  const most = Math.max(1, Math.floor(width / least));
  const each = Math.ceil(valves.length / Math.ceil(valves.length / most));
  const rows: T[][] = [];
  for (const run of cylinderRuns(valves)) {
    const together = valves.slice(run.from, run.to + 1);
    const row = rows.at(-1);
    if (row && row.length + together.length <= Math.max(each, together.length)) {
      row.push(...together);
    } else rows.push(together);
  }
  return rows;
}

/** Runs of neighbouring valves of one cylinder, for the brackets above them. */
export function cylinderRuns(valves: readonly { cylinder: number }[]) {
  const runs: { cylinder: number; from: number; to: number }[] = [];
  valves.forEach((valve, index) => {
    const last = runs.at(-1);
    if (last && last.cylinder === valve.cylinder) last.to = index;
    else runs.push({ cylinder: valve.cylinder, from: index, to: index });
  });
  return runs;
}

export type HeadGroup<T> = { name: string; place: number; valves: T[] };

/** Valves by the bank that they lie in, each in physical order; one nameless group in line. */
export function headGroups<T extends { cylinder: number }>(engine: {
  banks: readonly (readonly number[])[];
  valves: readonly T[];
}): HeadGroup<T>[] {
  if (engine.banks.length < 2) return [{ name: "", place: 0, valves: [...engine.valves] }];
  return engine.banks
    .map((bank, place) => ({
      name: `bank of ${bank.length > 1 ? "cylinders" : "cylinder"} ${bank.join(" ")}`,
      place,
      valves: engine.valves.filter((valve) => bank.includes(valve.cylinder)),
    }))
    .filter((group) => group.valves.length > 0);
}

/** How far a bank leans from upright in the drawing, seen from the front; clockwise. */
export function leanDeg(layout: string, place: number, of: number): number {
  if (of < 2) return 0;
  const spread = layout === "flat" ? 180 : layout === "vee" ? 70 : 40;
  return -spread / 2 + (place * spread) / (of - 1);
}

/** A lift as a line over a stretch of the cycle that begins at `fromCycle`. */
export function liftCurve(
  values: readonly number[],
  fromCycle: number,
  box: { width: number; spanDeg: number; baseline: number; height: number; fullMm: number },
): string {
  const points: string[] = [];
  for (let deg = 0; deg <= box.spanDeg; deg += 1) {
    const lift = Math.min(box.fullMm, sampled(values, fromCycle + deg));
    const y = box.baseline - (lift / box.fullMm) * box.height;
    points.push(`${((deg / box.spanDeg) * box.width).toFixed(1)},${y.toFixed(1)}`);
  }
  return `M${points.join("L")}`;
}

/** Two arrays of one length as a line. */
export function polyline(
  xs: readonly number[],
  ys: readonly number[],
  x: (value: number) => number,
  y: (value: number) => number,
): string {
  return `M${xs.map((value, at) => `${x(value).toFixed(1)},${y(ys[at] ?? 0).toFixed(1)}`).join("L")}`;
}
