/**
 * The gap seen from the side, and the leaf on its way in. The finger pushes, the leaf follows as
 * far as the gap lets it; the feel comes from the server the moment it touches the gap.
 *
 * Where the rocker works through a bridge, the leaf comes to its near side first, and only pushed
 * on does it lie under both.
 */
import { type PointerEvent, useEffect, useRef, useState } from "react";
import type { Unit } from "../app/session";
import { bendPx, FAR_PX, GATE_PX, howEntered, leafPx, sumWords } from "./leaves";
import { rasp } from "./sound";
import type { Acted, Action } from "./useRun";

const WORDS: Record<string, string> = {
  free: "free: it slides as if nothing were there",
  drag: "drag: held lightly on both faces",
  tight: "tight: only by force",
  no: "does not go in",
};
const HOWS: Record<string, string> = {
  skewed: " (it went in skewed)",
  tip: " (its tip was caught under the rocker)",
  "one-side": " (under the near side of the bridge only)",
};
const DRAWN_PX = 320;
const REST_PX = 40;
const STROKE_PX = 190;
const STROKE_MS = 700;

type How = "straight" | "skewed" | "tip" | "one-side";
export type Ask = { times: number; nearOnly: boolean };
type Props = {
  valve: number;
  leaves: readonly number[];
  unit: Unit;
  sound: boolean;
  bridged: boolean;
  /** times counts up when the keyboard asks for a feel. */
  ask: Ask;
  act: (action: Action, sure?: boolean) => Promise<Acted | null>;
};
type Felt = { feel: string; pull: number; how: How };

/** A leaf under way: entered where it has come to a gate, pull once the gap has answered. */
type Leaf = {
  fingerPx: number;
  shiftPx: number;
  gatePx: number;
  how: How | null;
  pull: number | null;
};
const OUT: Leaf = { fingerPx: 0, shiftPx: 0, gatePx: GATE_PX, how: null, pull: null };

export function FeelPad({ valve, leaves, unit, sound, bridged, ask, act }: Props) {
  const drawn = useRef<SVGPathElement>(null);
  const from = useRef<{ x: number; y: number } | null>(null);
  const leaf = useRef<Leaf>({ ...OUT });
  const [felt, setFelt] = useState<Felt | null>(null);
  const thick = Math.max(3, Math.min(12, leaves.reduce((sum, um) => sum + um, 0) / 60));

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
    const acted = await act({ do: "try", valve, leaves_um: [...leaves], how });
    if (acted === null) {
      away();
      return;
    }
    const told = { feel: String(acted.facts.feel), pull: Number(acted.facts.pull), how };
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
      if (share < 1) requestAnimationFrame(step);
    };
    requestAnimationFrame(step);
  }
  const latest = useRef(stroke);
  latest.current = stroke;
  // biome-ignore lint/correctness/useExhaustiveDependencies: another leaf or valve starts anew
  useEffect(() => {
    setFelt(null);
    away();
  }, [valve, leaves]);
  useEffect(() => {
    if (ask.times > 0) latest.current(ask.nearOnly);
  }, [ask]);

  return (
    <div className="feel">
      <svg
        viewBox={`0 0 ${DRAWN_PX} 120`}
        className="feel-pad"
        role="img"
        aria-label={`Gap of valve ${valve}: push the leaf in from the left, or press F`}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          setFelt(null);
          away();
          from.current = { x: event.clientX, y: event.clientY };
        }}
        onPointerMove={move}
        onPointerUp={() => {
          from.current = null;
        }}
      >
        {bridged ? (
          <>
            <path className="stem-end" d="M92,64H128V120H92ZM168,64H204V120H168Z" />
            <path className="pad-end" d="M84,22H212V44H168V34H128V44H84Z" />
            <path className="pad-end" d="M120,0H176Q172,16 148,20Q124,16 120,0Z" />
          </>
        ) : (
          <>
            <path className="stem-end" d="M92,64H220V120H92Z" />
            <path className="pad-end" d="M84,0H228L218,44Q156,64 94,44Z" />
          </>
        )}
        <path
          ref={drawn}
          className="leaf"
          strokeWidth={thick}
          d={`M${REST_PX - 210},60H${REST_PX}`}
        />
        <path className="hand" d="M2,96h34m-9,-8l9,8l-9,8" />
      </svg>
      <p className="feel-sum figures">{sumWords(leaves, unit)}</p>
      <meter
        className="pull"
        min={0}
        max={1}
        value={felt?.pull ?? 0}
        aria-label="How hard the leaf is held"
      />
      <p className={`feel-word ${felt?.feel ?? ""}`} data-testid="feel">
        {felt
          ? WORDS[felt.feel]
          : bridged
            ? "Push the leaf in, straight, through both sides of the bridge."
            : "Push the leaf into the gap, straight."}
        {felt && HOWS[felt.how]}
      </p>
    </div>
  );
}
