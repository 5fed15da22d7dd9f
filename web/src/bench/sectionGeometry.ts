/**
 * Where the parts of a cylinder that is cut open lie, in mm about the crank's axis, y downwards.
 *
 * Sizes, profiles, lifts and gaps are the server's; what lies here is only where a drawing puts them.
 */
import type { Schemas } from "../api/client";
import type { Train } from "./gear";

type Section = Schemas["SectionOut"];
type Cam = Schemas["CamOut"];
export type Point = { x: number; y: number };
export type Frame = { left: number; top: number; width: number; height: number };

const CROWN_PER_BORE = 0.35;
const SKIRT_PER_BORE = 0.62;
const STEM_PER_BORE = 0.95;
const HEAD_PER_BORE = 0.2;
/** Between the crown at its top and the head. */
export const SQUISH_MM = 1.5;

export type Chamber = { deckY: number; crownMm: number; pistonMm: number; headMm: number };

export function chamberOf({ bore_mm, stroke_mm, rod_mm }: Section): Chamber {
  const crownMm = CROWN_PER_BORE * bore_mm;
  return {
    deckY: -(stroke_mm / 2 + rod_mm + crownMm + SQUISH_MM),
    crownMm,
    pistonMm: SKIRT_PER_BORE * bore_mm,
    headMm: HEAD_PER_BORE * bore_mm,
  };
}

/** How the parts of one valve move when it lifts: along y, or about a pivot. */
export type Moves = {
  /** The closing rocker, about its own pivot. */
  closingDeg?: number;
  valve: number;
  rod: number;
  follower: number | { about: Point; deg: number };
};
export type Gear = {
  /** Where the valve's axis is, its closed head and the tip of its stem. */
  x: number;
  seatY: number;
  tipY: number;
  headUp: boolean;
  follower: string;
  pivot: Point | null;
  rod: string;
  adjuster: string;
  cam: Point;
  camBelow: boolean;
  /** The bar over the two stems that its rocker works together, "" for one stem. */
  bridge: string;
  /** A brake rocker has no valve of its own: it opens the exhaust valve. */
  hasValve: boolean;
  /** The rocker that pulls it shut: from under the closing lobe to the collar on the stem. */
  closing?: { rocker: string; pivot: Point } | undefined;
  moves: (liftMm: number) => Moves;
};

type Where = { x: number; side: 1 | -1; boreMm: number; deckY: number; clearanceMm: number };

/** Half of what lies between two stems under one bridge, for the bore; and how thick a bridge is. */
const BRIDGE_PER_BORE = 0.1;
const BRIDGE_MM = 6;
/** How far a brake rocker stands above the others, and how long its arms are, for the bore. */
const BRAKE_ABOVE = 0.24;
const BRAKE_ARM = 0.56;
const ARM = 0.36;

/** The gear of one valve. side: -1 leads its follower to the left, 1 to the right. */
export function gearIn(train: Train, cam: Cam, where: Where): Gear {
  if (train.kind === "side-valve") return sideValve(cam, where);
  const tipY = where.deckY - STEM_PER_BORE * where.boreMm;
  const bridge = train.bridged ? bridgePath(where, tipY) : "";
  const valve = { x: where.x, seatY: where.deckY, tipY, headUp: false, bridge, hasValve: true };
  const endY = train.bridged ? tipY - BRIDGE_MM : tipY;
  if (train.kind === "bucket") return { ...valve, ...bucket(train, cam, where, endY) };
  if (train.kind === "finger") return { ...valve, ...finger(cam, where, endY) };
  return { ...valve, ...rocker(train, cam, where, endY) };
}

/** A brake rocker over the exhaust valve: its long arm reaches above the other rocker, and a pin
 * comes down from it on the bridge, or beside the stem where there is none. */
export function brakeOver(train: Train, cam: Cam, exhaust: Gear, where: Where): Gear {
  const x = exhaust.x + BRIDGE_PER_BORE * where.boreMm;
  const topY = exhaust.tipY - (exhaust.bridge ? BRIDGE_MM : 0);
  const tipY = topY - BRAKE_ABOVE * where.boreMm;
  const over = rocker(train, cam, { ...where, x, side: 1 }, tipY, BRAKE_ARM);
  const pin = `M${x - 2.5},${tipY}V${topY}H${x + 2.5}V${tipY}Z`;
  return {
    ...over,
    follower: `${over.follower}${pin}`,
    x,
    seatY: exhaust.seatY,
    tipY,
    headUp: false,
    bridge: "",
    hasValve: false,
  };
}

function bridgePath({ x, boreMm }: Where, tipY: number): string {
  const half = BRIDGE_PER_BORE * boreMm + 5;
  return `M${x - half},${tipY}V${tipY - BRIDGE_MM}H${x + half}V${tipY}Z`;
}

type Above = Omit<Gear, "x" | "seatY" | "tipY" | "headUp" | "bridge" | "hasValve">;

function bucket(train: Train, cam: Cam, { x, boreMm, clearanceMm }: Where, tipY: number): Above {
  const half = 0.16 * boreMm;
  const plateY = tipY - 4;
  const shimY = train.seat === "over-bucket" ? plateY : tipY - 3;
  return {
    follower: `M${x - half},${plateY + 0.26 * boreMm}V${plateY}H${x + half}V${plateY + 0.26 * boreMm}`,
    pivot: null,
    rod: "",
    adjuster: train.seat === "" ? "" : `M${x - half * 0.5},${shimY}h${half}v3h${-half}z`,
    cam: { x, y: plateY - clearanceMm - cam.base_mm },
    camBelow: false,
    moves: (lift) => ({ valve: lift, rod: 0, follower: lift }),
  };
}

function finger(cam: Cam, { x, side, boreMm, clearanceMm }: Where, tipY: number): Above {
  const pivot = { x: x + side * 0.42 * boreMm, y: tipY + 0.02 * boreMm };
  // The pad lies where the lever gives the lift that the core reckons with.
  const share = 1 / cam.ratio;
  const pad = {
    x: pivot.x + (x - pivot.x) * share,
    y: tipY - 6 + cam.pad_mm * 0.2,
  };
  const padTop = pad.y - cam.pad_mm * 0.35;
  return {
    follower:
      `M${pivot.x},${pivot.y - 4}L${pad.x + side * cam.pad_mm * 0.6},${padTop + 2}` +
      `Q${pad.x},${padTop - 2} ${pad.x - side * cam.pad_mm * 0.6},${padTop + 2}` +
      `L${x - side * 4},${tipY - 5}V${tipY}L${x + side * 4},${tipY}L${pivot.x},${pivot.y + 5}Z`,
    pivot,
    rod: "",
    adjuster: screwAt(pivot.x, pivot.y - 8),
    cam: { x: pad.x, y: padTop - clearanceMm / cam.ratio - cam.base_mm },
    camBelow: false,
    moves: (lift) => turned(lift, pivot, x),
  };
}

function rocker(train: Train, cam: Cam, where: Where, tipY: number, armPerBore = ARM): Above {
  const { x, side, boreMm, deckY, clearanceMm } = where;
  const arm = armPerBore * boreMm;
  const pivot = { x: x + side * arm, y: tipY - 0.1 * boreMm };
  const out = { x: x + side * 2 * arm, y: tipY - 2 };
  const pushed = train.kind === "pushrod-rocker";
  const tappetY = deckY * 0.34;
  const camY = pushed
    ? tappetY + clearanceMm / cam.ratio + cam.base_mm
    : out.y + clearanceMm + cam.base_mm + 2;
  const closing = cam.closing ? closingRocker(cam.closing.base_mm, where, tipY, camY) : undefined;
  return {
    follower:
      `M${x - side * 7},${tipY - 9}Q${pivot.x},${pivot.y - 14} ${out.x + side * 6},${out.y - 9}` +
      `L${out.x + side * 5},${out.y}H${out.x - side * 5}Q${pivot.x},${pivot.y + 4} ${x + side * 5},${tipY}H${x - side * 5}Z`,
    pivot,
    rod: pushed
      ? `M${out.x},${out.y}V${tappetY - 12}M${out.x - 9},${tappetY - 12}h18V${tappetY}h-18Z`
      : "",
    closing,
    adjuster: setBy(train, train.seat === "pushrod" ? out.x : x, tipY),
    cam: { x: out.x, y: camY },
    camBelow: true,
    moves: (lift) => ({
      ...turned(lift, pivot, x),
      rod: pushed ? -lift / cam.ratio : 0,
      ...(closing && { closingDeg: side * turnDeg(lift, Math.abs(x - closing.pivot.x)) }),
    }),
  };
}

/** A straight lever: what its collar end sinks, its pad rises into the lobe's hollow. */
function closingRocker(roundMm: number, { x, side, boreMm }: Where, tipY: number, camY: number) {
  const arm = 0.36 * boreMm;
  const collarY = tipY + 0.34 * boreMm;
  const pad = { x: x + side * 2 * arm, y: camY + roundMm };
  const pivot = { x: x + side * arm, y: (collarY + pad.y) / 2 };
  return {
    pivot,
    rocker:
      `M${x - side * 7},${collarY}H${x + side * 5}L${pivot.x},${pivot.y - 4}` +
      `Q${pad.x - side * 8},${pad.y - 2} ${pad.x},${pad.y}Q${pad.x + side * 8},${pad.y + 1} ${pad.x + side * 7},${pad.y + 5}` +
      `L${pivot.x},${pivot.y + 5}L${x - side * 7},${collarY + 5}Z` +
      `M${x - 6},${collarY - 4}h12v4h-12z`,
  };
}

function turnDeg(lift: number, armMm: number): number {
  return (Math.atan2(lift, armMm) * 180) / Math.PI;
}

/** Beside the bore, head upwards: tappet and cam lie below it. */
function sideValve(cam: Cam, { side, boreMm, deckY, clearanceMm }: Where): Gear {
  const x = side * 0.85 * boreMm;
  const tipY = deckY + 0.95 * boreMm;
  const tappet = 0.24 * boreMm;
  return {
    x,
    seatY: deckY,
    tipY,
    headUp: true,
    bridge: "",
    hasValve: true,
    follower: `M${x - 7},${tipY}H${x + 7}V${tipY + tappet}H${x + 11}v4H${x - 11}v-4H${x - 7}Z`,
    pivot: null,
    rod: "",
    adjuster: screwAt(x, tipY + 3),
    cam: { x, y: tipY + tappet + 4 + clearanceMm + cam.base_mm },
    camBelow: true,
    moves: (lift) => ({ valve: -lift, rod: 0, follower: -lift }),
  };
}

function turned(lift: number, about: Point, tipX: number): Moves {
  const deg = (Math.atan2(lift, about.x - tipX) * 180) / Math.PI;
  const back = Math.atan2(0, about.x - tipX) === 0 ? -deg : 180 - deg;
  return { valve: lift, rod: 0, follower: { about, deg: back } };
}

/** The rocker's screw, or the shim that lies under its end. */
function setBy(train: Train, x: number, tipY: number): string {
  if (train.seat === "") return "";
  return train.seat === "under-follower"
    ? `M${x - 6},${tipY - 3}h12v3h-12z`
    : screwAt(x, tipY - 12);
}

function screwAt(x: number, y: number): string {
  return `M${x - 1.5},${y - 8}h3v14h-3zM${x - 5},${y - 3}h10v5h-10z`;
}

/** A valve with its head at seatY and its tip at tipY, or the two that are under one bridge. */
export function valvePath(gear: Gear, headMm: number, boreMm: number): string {
  if (!gear.bridge) return oneValve(gear, headMm);
  const half = BRIDGE_PER_BORE * boreMm;
  return [-half, half]
    .map((off) => oneValve({ ...gear, x: gear.x + off }, Math.min(headMm, half * 0.9)))
    .join("");
}

function oneValve({ x, seatY, tipY, headUp }: Gear, headMm: number): string {
  const out = headUp ? -1 : 1;
  return (
    `M${x - 2.5},${tipY}H${x + 2.5}V${seatY - out * 7}L${x + headMm},${seatY}v${out * 3}` +
    `H${x - headMm}v${-out * 3}L${x - 2.5},${seatY - out * 7}Z`
  );
}

export function profilePath({ x_mm, y_mm }: Pick<Cam, "x_mm" | "y_mm">): string {
  const points = x_mm.map((x, at) => `${x},${-(y_mm[at] ?? 0)}`);
  return `M${points.join("L")}Z`;
}

/** All that is drawn, with a margin. */
export function frameOf(section: Section, gears: readonly Gear[]): Frame {
  const cams = Object.values(section.cams);
  const reach = Math.max(...cams.map((cam) => cam.base_mm)) * 2.1;
  const xs = gears.flatMap((gear) => [gear.cam.x - reach, gear.cam.x + reach]);
  const left = Math.min(-section.bore_mm * 0.75, -section.stroke_mm / 2 - 16, ...xs);
  const right = Math.max(section.bore_mm * 0.75, section.stroke_mm / 2 + 16, ...xs);
  const top = Math.min(
    ...gears.map((gear) => Math.min(gear.tipY - 26, gear.seatY - 22, gear.cam.y - reach)),
  );
  const bottom = section.stroke_mm / 2 + 22;
  return { left, top, width: right - left, height: bottom - top };
}
