/** The whole run by keys. Nothing is taken from a field that is being typed in. */
import { useLayoutEffect, useRef } from "react";
import type { Table } from "../bench/lookup";
import { neighbour } from "./leaves";
import { toNextMark } from "./Turning";
import type { Action, View } from "./useRun";

type Keys = {
  act: (action: Action) => unknown;
  table: Table;
  view: View;
  valve: number;
  numbers: number[];
  onValve: (valve: number) => void;
  box: readonly number[];
  inHand: readonly number[];
  onHold: (leaves: number[]) => void;
  onFeel: (nearOnly: boolean) => void;
  onKeys: () => void;
};

export const PRACTICE_KEYS: readonly [string, string][] = [
  ["← →", "the valve before, the next valve"],
  ["[ ]", "a thinner, a thicker leaf"],
  ["F", "feel: push the leaf in, through both sides of a bridge"],
  ["N", "feel the near side of a bridge only"],
  [", .", "turn back, turn on by 1°; with Shift by 10°"],
  ["M", "turn on to the next mark"],
  ["R W", "rock the crank, wiggle the rocker"],
  ["L T", "loosen, tighten the lock nut"],
  ["S Z", "turn the screw until the leaf drags, to zero"],
  ["D", "mark the valve as done"],
];

export function usePracticeKeys(keys: Keys) {
  const latest = useRef(keys);
  latest.current = keys;
  // Before the first paint: what can be seen can be worked by keys.
  useLayoutEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if (event.ctrlKey || event.altKey || event.metaKey) return;
      if (target.closest("input, textarea, select, dialog[open]")) return;
      if (press(latest.current, event.key)) event.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
}

function press(keys: Keys, key: string): boolean {
  const { act, valve, numbers, box, inHand } = keys;
  const at = numbers.indexOf(valve);
  const held = inHand[0] ?? 250;
  const does: Record<string, () => void> = {
    arrowleft: () => keys.onValve(numbers[Math.max(0, at - 1)] ?? valve),
    arrowright: () => keys.onValve(numbers[Math.min(numbers.length - 1, at + 1)] ?? valve),
    "[": () => keys.onHold([neighbour(box, held, -1)]),
    "]": () => keys.onHold([neighbour(box, held, 1)]),
    f: () => keys.onFeel(false),
    n: () => keys.onFeel(true),
    "?": keys.onKeys,
    ",": () => act({ do: "turn", by_deg: -1 }),
    ".": () => act({ do: "turn", by_deg: 1 }),
    "<": () => act({ do: "turn", by_deg: -10 }),
    ">": () => act({ do: "turn", by_deg: 10 }),
    m: () => act({ do: "turn", by_deg: toNextMark(keys.table, keys.view.crank_turn_deg) }),
    r: () => act({ do: "rock" }),
    w: () => act({ do: "wiggle", valve }),
    l: () => act({ do: "loosen", valve }),
    t: () => act({ do: "tighten", valve }),
    s: () => act({ do: "set", valve, leaves_um: [...inHand] }),
    z: () => act({ do: "zero", valve }),
    d: () => act({ do: "done", valve }),
  };
  const found = does[key.toLowerCase()];
  found?.();
  return found !== undefined;
}
