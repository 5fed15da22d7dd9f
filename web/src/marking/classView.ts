/** A class's sheets beside each other: what is drawn of them. Pure. */
import type { Schemas } from "../api/client";
import { beside, mm, thou } from "../app/lengths";
import { inOrder } from "../app/school";

export type View = Schemas["ClassViewOut"];
export type Row = Schemas["ViewRow"];

/** Marked as well as coloured: each state has a sign of its own. */
export const STATES = {
  right: { sign: "·", says: "right" },
  larger: { sign: "+", says: "reads larger than the key" },
  smaller: { sign: "−", says: "reads smaller than the key" },
  place: { sign: "P", says: "not on its heel at that stop" },
  verdict: { sign: "V", says: "verdict does not follow" },
  work: { sign: "A", says: "adjusting, shim or another gap is wrong" },
  blank: { sign: "○", says: "left blank" },
} as const;

export type State = keyof typeof STATES;

export function stateOf(text: string): State {
  return text in STATES ? (text as State) : "blank";
}

export const ORDERS = [
  { value: "time", label: "As handed in" },
  { value: "name", label: "By name" },
  { value: "wrong", label: "Most to mend first" },
] as const;

export type Order = (typeof ORDERS)[number]["value"];

export function inOrderOf(rows: readonly Row[], order: Order): readonly Row[] {
  if (order === "name") return [...rows].sort((one, two) => inOrder(one.student, two.student));
  if (order === "wrong") return [...rows].sort((one, two) => wrongOf(two) - wrongOf(one));
  return rows;
}

function wrongOf(row: Row): number {
  return row.cells.filter((cell) => cell !== "right").length;
}

/** How many of a valve's cells are not right, of those that are not blank. */
export function tallyOf(rows: readonly Row[], at: number): { wrong: number; read: number } {
  const cells = rows.map((row) => row.cells[at]).filter((cell) => cell !== "blank");
  return { wrong: cells.filter((cell) => cell !== "right").length, read: cells.length };
}

/** The letter of a group of findings: a, b, c. */
export function letterOf(at: number): string {
  return String.fromCharCode(97 + (at % 26));
}

/** The letters that explain each cell, by hand-in and valve. */
export function lettersOf(view: View): ReadonlyMap<string, string> {
  const letters = new Map<string, string>();
  view.groups.forEach((group, at) => {
    for (const { hand_in_id, valves } of group.of)
      for (const valve of valves) {
        const key = `${hand_in_id}-${valve}`;
        letters.set(key, `${letters.get(key) ?? ""}${letterOf(at)}`);
      }
  });
  return letters;
}

/** A cell in words: whose, which valve, what was read, what it came to, and what explains it. */
export function wordsOf(view: View, row: Row, at: number, letters: string): string {
  const valve = view.valves[at];
  if (!valve) return "";
  const gap = row.gaps_mm[at] ?? null;
  const error = row.errors_mm[at] ?? null;
  const inThou = valve.written_in === "thou";
  const other = inThou ? mm : thou;
  const read = gap === null ? "no figure" : `${beside(gap, valve)} (${other(gap)})`;
  const off =
    error === null || Math.abs(error) < 0.00005
      ? ""
      : `, ${(inThou ? thou : mm)(Math.abs(error))} ${error > 0 ? "larger" : "smaller"} than the key`;
  const state = stateOf(row.cells[at] ?? "");
  const said = state === "larger" || state === "smaller" ? "" : `; ${STATES[state].says}`;
  const why = view.groups.filter((_, group) => letters.includes(letterOf(group)));
  const explained = why.length > 0 ? `; explained by: ${why.map((g) => g.label).join(", ")}` : "";
  return `${row.student}, valve ${valve.number}: ${read}${off}${said}${explained}.`;
}
