/** Turning the crank from the keyboard, anywhere on the Bench but in a field. */
import { type RefObject, useEffect } from "react";
import type { Crank } from "./crank";
import { CYCLE_DEG, nextFiring, normalise, type Table } from "./lookup";

export const KEYS = [
  ["← →", "one degree back, one degree on"],
  ["Shift ← →", "ten degrees"],
  ["Home", "to 0°, first cylinder firing"],
  ["T, Shift T", "next firing TDC, the one before"],
  ["N, P", "next stop of the route, the one before"],
  ["Tab", "to the ribbon, the route, the stops"],
  ["?", "this sheet"],
] as const;

function inField(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement && target.closest("input, select, textarea, dialog") !== null
  );
}

export function useTurningKeys(
  crank: Crank,
  table: Table,
  stops: RefObject<number[]>,
  showKeys: () => void,
) {
  useEffect(() => {
    function toStop(direction: 1 | -1) {
      const turn = (deg: number) => normalise((deg - crank.deg) * direction) || CYCLE_DEG;
      const sorted = [...stops.current].sort((a, b) => turn(a) - turn(b));
      if (sorted[0] !== undefined) crank.set(sorted[0]);
    }
    function press(event: KeyboardEvent) {
      if (event.ctrlKey || event.metaKey || event.altKey || inField(event.target)) return;
      const step = event.shiftKey ? 10 : 1;
      const actions: Record<string, () => void> = {
        arrowright: () => crank.turn(step),
        arrowup: () => crank.turn(step),
        arrowleft: () => crank.turn(-step),
        arrowdown: () => crank.turn(-step),
        home: () => crank.set(0),
        t: () => crank.set(nextFiring(table, crank.deg, event.shiftKey ? -1 : 1)),
        n: () => toStop(1),
        p: () => toStop(-1),
        "?": showKeys,
      };
      const action = actions[event.key.toLowerCase()];
      if (action) {
        event.preventDefault();
        action();
      }
    }
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [crank, table, stops, showKeys]);
}
