/** The schools of sequence by the names that people use, in the order in which they are taught. */
import type { SchoolsWish } from "../api/queries";

export const SCHOOLS = [
  {
    method: "each-cylinder",
    name: "Each cylinder",
    about: "every cylinder at its firing TDC, in firing order: slow and safe",
  },
  { method: "two-stop", name: "Two stops", about: "half at one stop, the rest a full turn later" },
  {
    method: "companion-overlap",
    name: "Companion overlap",
    about: "rock a cylinder in overlap, set its companion",
  },
  {
    method: "pair-marks",
    name: "Pair marks",
    about: "at each pair mark set the cylinder whose rockers are loose; go round twice",
  },
  {
    method: "opposite-valve",
    name: "Opposite valve",
    about: "with one valve fully open, set the one that makes the sum with it",
  },
  {
    method: "opening-closing",
    name: "Opening and closing",
    about: "the intake when the exhaust starts to open, the exhaust when the intake is shutting",
  },
  {
    method: "lobe-away",
    name: "Lobe away",
    about: "turn until the lobe points straight away, one valve at a time",
  },
  {
    method: "maker-chart",
    name: "Maker's chart",
    about: "the manual's own table, followed and checked",
  },
  {
    method: "fewest-stops",
    name: "Fewest stops",
    about: "the provably smallest number of stops, with the best margin",
  },
] as const;

/** From the first firing TDC, the running way, anywhere, with any margin. */
export const PLAIN_WISH: SchoolsWish = {
  startDeg: 0,
  direction: "running",
  minMarginDeg: 0,
  stops: "any",
};

export function schoolOf(method: string) {
  return SCHOOLS.find((school) => school.method === method);
}

export function schoolName(method: string): string {
  return schoolOf(method)?.name ?? method;
}
