/** The whole run by keys: what the Bench has too has the same key. Nothing is taken from a field that is being typed in. */
import { useLayoutEffect, useRef } from "react";
import type { GapKind } from "../api/queries";
import { isTypedIn } from "../app/typedIn";
import type { Table } from "../bench/lookup";
import { neighbour } from "./leaves";
import { toNextMark } from "./Turning";
import type { Action, View } from "./useRun";

type Keys = {
  act: (action: Action) => unknown;
  setByLeaf: (pressing: boolean) => void;
  table: Table;
  view: View;
  valve: number;
  gap: GapKind;
  numbers: number[];
  onValve: (valve: number) => void;
  box: readonly number[];
  /** What a hand does before the leaf goes in; empty where nothing. */
  push: string;
  inHand: readonly number[];
  onHold: (leaves: number[]) => void;
  onFeel: (nearOnly: boolean) => void;
  onKeys: () => void;
};

export const PRACTICE_KEYS: readonly [string, string][] = [
  ["← →", "turn back, turn on by 1°; with Shift by 10°"],
  ["M", "turn on to the next mark"],
  ["O", "rock the crank"],
  ["V, Shift V", "the next valve, the one before"],
  ["W", "wiggle it, where there is something to wiggle; turn the closing shim"],
  ["[ ]", "a thinner, a thicker leaf"],
  ["P", "press the push rod's slack out, lift the follower"],
  ["F", "feel: push the leaf in, through both sides of a bridge"],
  ["Shift F", "feel the near side of a bridge only"],
  ["L, Shift L", "loosen, tighten the lock nut"],
  ["S Z", "turn the screw until the leaf drags, to zero"],
  ["D", "mark the valve as done"],
];

export function usePracticeKeys(keys: Keys) {
  const latest = useRef(keys);
  latest.current = keys;
  // Before the first paint: what can be seen can be worked by keys.
  useLayoutEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.altKey || event.metaKey) return;
      if (isTypedIn(event.target, event.key)) return;
      if (press(latest.current, event)) event.preventDefault();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
}

/** Turning, marks and rocking have the keys that they have on the Bench. */
function press(keys: Keys, { key, shiftKey }: KeyboardEvent): boolean {
  const { act, valve, numbers, box, inHand } = keys;
  const at = numbers.indexOf(valve);
  const held = inHand[0] ?? 250;
  const step = shiftKey ? 10 : 1;
  const next = numbers[Math.max(0, Math.min(numbers.length - 1, at + (shiftKey ? -1 : 1)))];
  const does: Record<string, () => void> = {
    arrowleft: () => act({ do: "turn", by_deg: -step }),
    arrowright: () => act({ do: "turn", by_deg: step }),
    m: () => act({ do: "turn", by_deg: toNextMark(keys.table, keys.view.crank_turn_deg) }),
    o: () => act({ do: "rock" }),
    v: () => keys.onValve(next ?? valve),
    w: () => act({ do: "wiggle", valve, gap: keys.gap === "closing" ? "closing" : "opening" }),
    "[": () => keys.onHold([neighbour(box, held, -1)]),
    "]": () => keys.onHold([neighbour(box, held, 1)]),
    f: () => keys.onFeel(shiftKey),
    l: () => act({ do: shiftKey ? "tighten" : "loosen", valve }),
    p: () => keys.push && act({ do: "push", valve }),
    s: () => keys.setByLeaf(false),
    z: () => act({ do: "zero", valve }),
    d: () => act({ do: "done", valve }),
    "?": keys.onKeys,
  };
  const found = does[key.toLowerCase()];
  found?.();
  return found !== undefined;
}
