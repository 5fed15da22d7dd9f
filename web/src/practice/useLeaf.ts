/** The leaf under way: the finger pushes, the leaf follows as far as the gap lets it. */
import { type PointerEvent, useEffect, useLayoutEffect, useRef, useState } from "react";
import type { GapKind } from "../api/queries";
import { bendPx, FAR_PX, GATE_PX, howEntered, leafPx } from "./leaves";
import { rasp } from "./sound";
import type { Acted, Action } from "./useRun";

export const DRAWN_PX = 320;
export const REST_PX = 40;
const STROKE_PX = 190;
const STROKE_MS = 700;

export type How = "straight" | "skewed" | "tip" | "one-side";
/** A feel that the keyboard, or a button, asks for. */
export type Ask = { nearOnly: boolean };
/** feel is the word for it, told only to those who are coached; the others have the pull. */
export type Felt = {
  feel: string | null;
  isIn: boolean;
  bodyIn: boolean | null;
  pull: number;
  how: How;
};

/** A leaf under way: entered where it has come to a gate, pull once the gap has answered. */
type Leaf = {
  fingerPx: number;
  shiftPx: number;
  gatePx: number;
  how: How | null;
  pull: number | null;
};
const OUT: Leaf = { fingerPx: 0, shiftPx: 0, gatePx: GATE_PX, how: null, pull: null };

export type LeafProps = {
  valve: number;
  gap: GapKind;
  leaves: readonly number[];
  /** Of a step leaf in the hand: its body. */
  bodyUm: number | null;
  angled: boolean;
  sound: boolean;
  bridged: boolean;
  ask: Ask | null;
  /** It is taken up: who takes the tool up again later must not try the leaf again. */
  onAsked: () => void;
  act: (action: Action, sure?: boolean) => Promise<Pick<Acted, "facts"> | null>;
};

export function useLeaf(props: LeafProps) {
  const { valve, gap, leaves, bodyUm, angled, sound, bridged, ask, onAsked, act } = props;
  const drawn = useRef<SVGPathElement>(null);
  const from = useRef<{ x: number; y: number } | null>(null);
  const leaf = useRef<Leaf>({ ...OUT });
  const [felt, setFelt] = useState<Felt | null>(null);

  function tipPx(): number {
    const { fingerPx, shiftPx, gatePx, how, pull } = leaf.current;
    const at = leafPx(fingerPx - shiftPx, pull, gatePx);
    return how === "one-side" ? Math.min(at, FAR_PX) : at;
  }

  function paint() {
    const { fingerPx, shiftPx, gatePx, pull } = leaf.current;
    const x = REST_PX + tipPx();
    const bend = bendPx(fingerPx - shiftPx, pull, gatePx);
    drawn.current?.setAttribute(
      "d",
      `M${x - 210},${60 + bend * 0.6}Q${x - 40},${60 - bend} ${x},60`,
    );
  }

  async function enter(how: How) {
    leaf.current.how = how;
    const tool = { ...(bodyUm === null ? {} : { body_um: bodyUm }), ...(angled ? { angled } : {}) };
    const acted = await act({ do: "try", valve, leaves_um: [...leaves], how, gap, ...tool });
    if (acted === null) {
      away();
      return;
    }
    const told = feltOf(acted.facts, how);
    leaf.current.pull = told.pull;
    setFelt(told);
    if (sound) rasp(told.pull);
    paint();
  }

  function away() {
    from.current = null;
    leaf.current = { ...OUT };
    paint();
  }

  function move(event: PointerEvent) {
    if (from.current === null) return;
    const { width, height } = event.currentTarget.getBoundingClientRect();
    const scale = Math.min(width / DRAWN_PX, height / 120) || 1;
    leaf.current.fingerPx = Math.max(0, (event.clientX - from.current.x) / scale);
    const { fingerPx, how, pull } = leaf.current;
    if (how === null && fingerPx > GATE_PX) {
      const entered = howEntered((event.clientY - from.current.y) / scale);
      enter(bridged && entered === "straight" ? "one-side" : entered);
    } else if (how === "one-side" && pull !== null && tipPx() >= FAR_PX) {
      leaf.current = { ...leaf.current, gatePx: FAR_PX, shiftPx: fingerPx - FAR_PX, pull: null };
      enter("straight");
    }
    paint();
  }

  /** One push and back by itself, for keys: slower the harder it is held. */
  async function stroke(nearOnly: boolean) {
    setFelt(null);
    const gatePx = bridged && !nearOnly ? FAR_PX : GATE_PX;
    leaf.current = { ...OUT, gatePx, fingerPx: gatePx };
    paint();
    await enter(nearOnly ? "one-side" : "straight");
    const { pull } = leaf.current;
    if (pull === null) return;
    const lasts = STROKE_MS * (1 + 2 * pull);
    const began = performance.now();
    const still = matchMedia("(prefers-reduced-motion: reduce)").matches;
    const step = (now: number) => {
      const share = still ? 1 : Math.min(1, (now - began) / lasts);
      leaf.current.fingerPx = gatePx + STROKE_PX * share;
      paint();
      if (share < 1) stroking.current = requestAnimationFrame(step);
    };
    stroking.current = requestAnimationFrame(step);
  }
  const stroking = useRef(0);
  const latest = useRef(stroke);
  latest.current = stroke;
  // Before the first paint: a finger that is quicker than an effect must not lose its leaf.
  // biome-ignore lint/correctness/useExhaustiveDependencies: another leaf or valve starts afresh
  useLayoutEffect(() => {
    setFelt(null);
    away();
    // A stroke by a key ends with the leaf that it is of.
    return () => cancelAnimationFrame(stroking.current);
  }, [valve, gap, leaves, bodyUm, angled]);
  useEffect(() => {
    if (ask === null) return;
    onAsked();
    latest.current(ask.nearOnly);
  }, [ask, onAsked]);

  const handlers = {
    onPointerDown: (event: PointerEvent) => {
      event.currentTarget.setPointerCapture(event.pointerId);
      setFelt(null);
      away();
      from.current = { x: event.clientX, y: event.clientY };
    },
    onPointerMove: move,
    onPointerUp: () => {
      from.current = null;
    },
  };
  return { drawn, felt, handlers };
}

/** What the server tells of a leaf: to some in a word, to all whether it is in, and how it pulls. */
function feltOf(facts: Acted["facts"], how: How): Felt {
  const feel = facts.feel === undefined ? null : String(facts.feel);
  const body = facts.body_in ?? (facts.body_feel === undefined ? null : facts.body_feel !== "no");
  return {
    feel,
    isIn: feel === null ? facts.is_in === true : feel !== "no",
    bodyIn: typeof body === "boolean" ? body : null,
    pull: Number(facts.pull),
    how,
  };
}
