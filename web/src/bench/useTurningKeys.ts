/** Everything on the Bench by keys, anywhere but in a field. */
import { type RefObject, useLayoutEffect } from "react";
import { isTypedIn } from "../app/typedIn";
import type { Crank } from "./crank";
import type { Table } from "./lookup";
import { eventAngles, firings, markAngles, nextOf } from "./turning";

export const KEYS = [
  ["← →", "one degree back, one degree on"],
  ["Shift ← →", "ten degrees"],
  ["Home", "to 0°, first cylinder firing"],
  ["M, Shift M", "next mark, the one before"],
  ["E, Shift E", "next event: a valve opens or closes, a cylinder fires"],
  ["T, Shift T", "next firing TDC, the one before"],
  ["N, P", "next stop of the route, the one before"],
  ["O", "rock about this place"],
  ["R", "turn as on the engine (its direction and slack), or look freely"],
  ["1, 2, 3, 4", "whole engine, overlap, what clearance does, section"],
  ["H", "hide the stroke, for the class to name it"],
  ["C", "cover what tells: verdict, strokes and heels"],
  ["B", "board for the class: large and dark"],
  ["Tab", "to the ribbon, the route, the stops"],
  ["?", "this sheet"],
] as const;

/** What keys do beside turning; each is a switch of the page. */
export type Switches = {
  /** Whether the stroke is hidden, for a class to name it. */
  hidden: boolean;
  rock: () => void;
  real: () => void;
  view: (number: number) => void;
  hide: () => void;
  cover: () => void;
  board: () => void;
  keys: () => void;
};

export function useTurningKeys(
  crank: Crank,
  table: Table,
  stops: RefObject<number[]>,
  switches: Switches,
) {
  useLayoutEffect(() => {
    function press(event: KeyboardEvent) {
      if (event.ctrlKey || event.metaKey || event.altKey || isTypedIn(event.target, event.key))
        return;
      const step = event.shiftKey ? 10 : 1;
      const way = event.shiftKey ? -1 : 1;
      const to = (anglesDeg: readonly number[], direction: 1 | -1) => {
        const deg = nextOf(anglesDeg, crank.deg, direction);
        if (deg !== undefined) crank.set(deg);
      };
      const actions: Record<string, () => unknown> = {
        arrowright: () => crank.turn(step),
        arrowup: () => crank.turn(step),
        arrowleft: () => crank.turn(-step),
        arrowdown: () => crank.turn(-step),
        home: () => crank.set(0),
        // While the stroke is to be named, nothing leads to a place that would tell it.
        m: () => to(markAngles(table, !switches.hidden), way),
        e: () => switches.hidden || to(eventAngles(table), way),
        t: () => switches.hidden || to(firings(table), way),
        n: () => switches.hidden || to(stops.current, 1),
        p: () => switches.hidden || to(stops.current, -1),
        o: switches.rock,
        r: switches.real,
        h: switches.hide,
        c: switches.cover,
        b: switches.board,
        "1": () => switches.view(1),
        "2": () => switches.view(2),
        "3": () => switches.view(3),
        "4": () => switches.view(4),
        "?": switches.keys,
      };
      const action = actions[event.key.toLowerCase()];
      if (action) {
        event.preventDefault();
        action();
      }
    }
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [crank, table, stops, switches]);
}
