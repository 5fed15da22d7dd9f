/** What this device keeps of a sheet until the server has it: valve by valve, so that two tabs of
 * one browser do not wipe each other's. */
import { newKey } from "../app/keys";
import { emptyLine, type Line } from "./lines";

/**
 * A line that the server does not have yet, and what it had when the line was changed. sent: what
 * was sent and never answered; it may have arrived, so it is sent once more before anything newer.
 */
export type Waiting = { line: Line; base: Line; sent?: Line };
type Kept = { waiting: Record<number, Waiting>; requestKey: string };

export function keptHere(place: string): Kept {
  const nothing = { waiting: {}, requestKey: newKey() };
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
  try {
    const { waiting } = keptHere(place);
    change(waiting);
    if (Object.keys(waiting).length === 0) localStorage.removeItem(place);
    else localStorage.setItem(place, JSON.stringify({ waiting, requestKey }));
  } catch {
    // A full or forbidden storage loses the copy on this device only; the server has its own.
  }
}

export function forget(place: string) {
  try {
    localStorage.removeItem(place);
  } catch {
    // Nothing was kept then.
  }
}
