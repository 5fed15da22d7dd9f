/** What this device keeps of a sheet until the server has it: valve by valve, so that two tabs of
 * one browser do not wipe each other's. */
import { newKey } from "../app/keys";
import { draftsOf } from "../app/own";
import { emptyLine, type Line } from "./lines";

/**
 * A line that the server does not have yet, and what it had when the line was changed. sent: what
 * was sent and never answered; it may have arrived, so it is sent once more before anything newer.
 */
export type Waiting = { line: Line; base: Line; sent?: Line };
/** A hand-in that was pressed and could not go: of which sheet, and whether it was asked about. */
export type Pressed = { title: string; confirmed: boolean };
export type Kept = { waiting: Record<number, Waiting>; requestKey: string; pressed?: Pressed };

/** Told to the window when a hand-in begins to wait, and when it waits no more. */
const PRESSED = "edrix:pressed";

export const placeOf = (personId: number, sheetId: number) => `${draftsOf(personId)}${sheetId}`;

export function keptHere(place: string): Kept {
  const nothing: Kept = { waiting: {}, requestKey: newKey() };
  try {
    const found = JSON.parse(localStorage.getItem(place) ?? "null");
    if (found === null) return nothing;
    // As an earlier version kept them: whole sheets, which were not said to be based on anything.
    if (Array.isArray(found.lines)) {
      const lines = (found.lines as Line[]).map((line) => [
        line.valve,
        { line, base: emptyLine(line.valve, line.unit) },
      ]);
      return { waiting: Object.fromEntries(lines), requestKey: found.requestKey };
    }
    return found as Kept;
  } catch {
    return nothing;
  }
}

/** Changes what is kept of some valves, and leaves the others as another tab may have them. */
export function keepHere(
  place: string,
  requestKey: string,
  change: (waiting: Record<number, Waiting>) => void,
) {
  const { waiting, pressed } = keptHere(place);
  change(waiting);
  put(place, { waiting, requestKey, ...(pressed && { pressed }) });
}

/** A hand-in waits with what is kept of its sheet; null: it waits no more, and the rest is kept. */
export function keepPressed(place: string, requestKey: string, pressed: Pressed | null) {
  const { waiting } = keptHere(place);
  put(place, { waiting, requestKey, ...(pressed && { pressed }) });
  window.dispatchEvent(new Event(PRESSED));
}

function put(place: string, kept: Kept) {
  try {
    const isNothing = Object.keys(kept.waiting).length === 0 && !kept.pressed;
    if (isNothing) localStorage.removeItem(place);
    else localStorage.setItem(place, JSON.stringify(kept));
  } catch {
    // A full or forbidden storage loses the copy on this device only; the server has its own.
  }
}

export function forget(place: string) {
  put(place, { waiting: {}, requestKey: "" });
  window.dispatchEvent(new Event(PRESSED));
}

/** The numbers of this person's sheets of which this device keeps what the server lacks. */
export function sheetsKeptHere(personId: number): number[] {
  const begin = draftsOf(personId);
  try {
    return Object.keys(localStorage)
      .filter((place) => place.startsWith(begin))
      .map((place) => Number(place.slice(begin.length)));
  } catch {
    return [];
  }
}

/** Those whose hand-in waits, as one text that changes when one of them does. */
export function pressedHere(personId: number): string {
  return sheetsKeptHere(personId)
    .filter((sheetId) => keptHere(placeOf(personId, sheetId)).pressed)
    .join(" ");
}

export function onPressed(listener: () => void): () => void {
  window.addEventListener(PRESSED, listener);
  window.addEventListener("storage", listener);
  return () => {
    window.removeEventListener(PRESSED, listener);
    window.removeEventListener("storage", listener);
  };
}
