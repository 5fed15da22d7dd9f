/**
 * How a valve of each kind is drawn in a row: not to scale, but with the parts that are there.
 *
 * A drawing is 96 units high about x = 0. `down` is how far the valve is off its seat and `up` how
 * wide its gap is, both in those units; the lobe turns about its own centre.
 */
import type { Schemas } from "../api/client";

export type Train = Schemas["TrainOut"];
export const TRAVEL = 15;
export const GAP = 5;
const PIVOT_Y = 18;

export type Pose = { arm: number; down: number; up: number };
export type Drawn = {
  follower: string;
  stem: string;
  head: string;
  spring: string;
  rod: string;
  /** The screw with its nut, or the shim. */
  adjuster: string;
};
export type Lobe = { x: number; y: number; base: number; reach: number; facing: "up" | "down" };
type Gear = {
  draw: (pose: Pose, train: Train) => Drawn;
  seat: (arm: number) => string;
  pivot?: (arm: number) => { x: number; y: number };
  lobe?: (arm: number) => Lobe;
};

const hanging = (x: number) => `M${x - 17},84h8M${x + 9},84h8`;

function rocker({ arm, down, up }: Pose, train: Train): Drawn {
  const screwX = train.seat === "pushrod" ? -arm : arm;
  const screwY = train.seat === "pushrod" ? 16 + up - down : 8 + down - up;
  return {
    follower: beam(arm, down - up),
    ...valve(arm, down, PIVOT_Y + GAP, train.bridged),
    rod: `M${-arm},${26 + up - down}V${92 + up - down}`,
    adjuster: train.seat === "" ? "" : nut(screwX, screwY),
  };
}

function overhead(pose: Pose, train: Train): Drawn {
  return { ...rocker(pose, train), rod: "" };
}

function pulled(pose: Pose, train: Train): Drawn {
  const { arm, down } = pose;
  // The closing rocker's fork under the collar of the stem.
  const fork = `M${-arm},58L${arm - 10},${48 + down}M${arm - 10},${48 + down}h20`;
  return { ...rocker(pose, train), rod: fork, spring: "", adjuster: plate(arm, 26 + down) };
}

function finger({ arm, down, up }: Pose, train: Train): Drawn {
  const tip = 30 + down - up;
  return {
    follower: `M${-arm - 4},42L${-arm + 4},34L${arm + 4},${tip - 2}V${tip + 5}L${arm - 6},${tip + 4}L${-arm + 2},46Z`,
    ...valve(arm, down, 36, train.bridged),
    rod: "",
    adjuster: train.seat === "under-follower" ? plate(arm, 36 + down) : nut(-arm, 30),
  };
}

function bucket({ down }: Pose, train: Train): Drawn {
  const top = 38 + down;
  return {
    follower: `M-15,${top + 20}V${top}H15V${top + 20}`,
    ...valve(0, down, 48, train.bridged),
    rod: "",
    adjuster: plate(0, train.seat === "over-bucket" ? top - 3 : top + 6),
  };
}

/** Upside down: the head is at the top and lifts, the tappet pushes from below. */
function sideValve({ down, up }: Pose, train: Train): Drawn {
  return {
    follower: `M-7,${58 + up - down}H7V${70 + up - down}H-7Z`,
    stem: `M0,${16 - down}V${54 - down}M-8,${48 - down}h16`,
    head: `M-11,${10 - down}H11L3,${18 - down}h-6Z`,
    spring: coil(0, 24, 46 - down),
    rod: "",
    adjuster: train.seat === "" ? "" : nut(0, 55 + up - down),
  };
}

const overheadLobe = (arm: number): Lobe => ({
  x: -arm,
  y: 40,
  base: 8,
  reach: TRAVEL + GAP,
  facing: "up",
});
const ROCKER_PIVOT = () => ({ x: 0, y: PIVOT_Y });
const GEARS: Record<string, Gear> = {
  "pushrod-rocker": { draw: rocker, seat: hanging, pivot: ROCKER_PIVOT },
  "overhead-rocker": { draw: overhead, seat: hanging, pivot: ROCKER_PIVOT, lobe: overheadLobe },
  "positive-closing": { draw: pulled, seat: hanging, pivot: ROCKER_PIVOT, lobe: overheadLobe },
  finger: {
    draw: finger,
    seat: hanging,
    pivot: (arm) => ({ x: -arm, y: 42 }),
    lobe: () => ({ x: 0, y: 22, base: 8, reach: TRAVEL / 2 + 2, facing: "down" }),
  },
  bucket: {
    draw: bucket,
    seat: () => hanging(0),
    lobe: () => ({ x: 0, y: 25, base: 9, reach: TRAVEL + 2, facing: "down" }),
  },
  "side-valve": {
    draw: sideValve,
    seat: () => "M-19,18h7M12,18h7",
    lobe: () => ({ x: 0, y: 82, base: 7, reach: TRAVEL / 2 + 2, facing: "up" }),
  },
};

export function gearOf(train: Train): Gear {
  return GEARS[train.kind] ?? (GEARS["overhead-rocker"] as Gear);
}

/** A lobe about (0, 0) with its nose downwards: a base circle, a nose, and straight flanks. */
export function lobePath({ base, reach }: Lobe): string {
  const nose = 4;
  const at = base + reach - nose;
  const turn = Math.acos((base - nose) / at);
  const [sin, cos] = [Math.sin(turn), Math.cos(turn)];
  const point = (x: number, y: number) => `${x.toFixed(1)},${y.toFixed(1)}`;
  return (
    `M${point(base * sin, base * cos)}L${point(nose * sin, at + nose * cos)}` +
    `A${nose},${nose} 0 0 1 ${point(-nose * sin, at + nose * cos)}` +
    `L${point(-base * sin, base * cos)}A${base},${base} 0 1 1 ${point(base * sin, base * cos)}Z`
  );
}

/** The twin lobe that pulls a valve shut, on the same shaft: round, and hollow where the other has
 * its nose opposite. */
export function closingPath({ base, reach }: Lobe): string {
  const round = base + reach * 0.5;
  const half = round * 0.64;
  const edge = -Math.sqrt(round * round - half * half);
  const p = (x: number, y: number) => `${x.toFixed(1)},${y.toFixed(1)}`;
  return `M${p(-half, edge)}Q${p(0, edge + base)} ${p(half, edge)}A${round},${round} 0 1 1 ${p(-half, edge)}Z`;
}

/** How a lobe stands so many degrees of the crank after its valve was fully open. */
export function lobeTurn(lobe: Lobe, pastDeg: number, sense: 1 | -1): string {
  const turned = (sense * pastDeg) / 2 + (lobe.facing === "up" ? 180 : 0);
  return `translate(${lobe.x},${lobe.y}) rotate(${turned.toFixed(0)})`;
}

/** The valve hanging at x, its stem from top on; two of them under a bridge. */
function valve(x: number, down: number, top: number, bridged: boolean) {
  const y = top + down;
  if (!bridged) {
    return {
      stem: `M${x},${y}V${76 + down}M${x - 8},${y + 2}h16`,
      head: `M${x - 3},${74 + down}h6l8,10h-22z`,
      spring: coil(x, top + 3 + down, 72),
    };
  }
  const [one, other] = [x - 9, x + 9];
  return {
    stem: `M${one},${y + 8}V${76 + down}M${other},${y + 8}V${76 + down}M${one - 4},${y + 8}H${other + 4}M${x},${y}v8`,
    head: `M${one - 2},${76 + down}h4l4,8h-12zM${other - 2},${76 + down}h4l4,8h-12z`,
    spring: `${coil(one, top + 14 + down, 72, 4)}${coil(other, top + 14 + down, 72, 4)}`,
  };
}

/** A lock nut on its screw. */
function nut(x: number, y: number): string {
  return `M${x},${y - 7}V${y + 6}M${x - 5},${y - 2}h10v5h-10z`;
}

function plate(x: number, y: number): string {
  return `M${x - 7},${y}h14v2.5h-14z`;
}

/** The rocker's outline, tilted about its pivot until the valve's end stands `down` lower. */
function beam(arm: number, down: number): string {
  const reach = Math.hypot(arm, down);
  const cos = arm / reach;
  const sin = down / reach;
  const at = (x: number, y: number) =>
    `${(x * cos - y * sin).toFixed(1)},${(PIVOT_Y + x * sin + y * cos).toFixed(1)}`;
  return (
    `M${at(-arm - 6, -4)}Q${at(0, -14)} ${at(arm + 6, -5)}L${at(arm + 5, 5)}` +
    `Q${at(arm, 6)} ${at(arm - 5, 5)}Q${at(0, 0)} ${at(-arm + 4, 8)}L${at(-arm - 5, 8)}Z`
  );
}

/** A spring as a zigzag between two heights. */
function coil(x: number, top: number, bottom: number, half = 8): string {
  const turns = 6;
  let path = `M${x - half},${top.toFixed(1)}`;
  for (let turn = 1; turn <= turns; turn++) {
    const y = top + ((bottom - top) * turn) / turns;
    path += `L${turn % 2 ? x + half : x - half},${y.toFixed(1)}`;
  }
  return path;
}
