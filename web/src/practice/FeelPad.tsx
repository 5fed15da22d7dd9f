/**
 * The gap seen from the side, and the leaf on its way in. The finger pushes, the leaf follows as
 * far as the gap lets it; the feel comes from the server the moment it touches the gap.
 */
import { type PointerEvent, useEffect, useRef, useState } from "react";
import type { Unit } from "../app/session";
import { bendPx, GATE_PX, howEntered, leafPx, sumWords } from "./leaves";
import { rasp } from "./sound";
import type { Acted, Action } from "./useRun";

const WORDS: Record<string, string> = {
  free: "free: it slides as if nothing were there",
  drag: "drag: held lightly on both faces",
  tight: "tight: only by force",
  no: "does not go in",
};
const DRAWN_PX = 320;
const REST_PX = 40;
const STROKE_PX = 190;
const STROKE_MS = 700;

type Props = {
  valve: number;
  leaves: readonly number[];
  unit: Unit;
  sound: boolean;
  /** Counts up when the keyboard asks for a feel. */
  ask: number;
  act: (action: Action, sure?: boolean) => Promise<Acted | null>;
};

type Felt = { feel: string; pull: number; how: string };

export function FeelPad({ valve, leaves, unit, sound, ask, act }: Props) {
  const leaf = useRef<SVGPathElement>(null);
  const from = useRef<{ x: number; y: number } | null>(null);
  const finger = useRef(0);
  const entered = useRef(false);
  const pull = useRef<number | null>(null);
  const [felt, setFelt] = useState<Felt | null>(null);
  const thick = Math.max(3, Math.min(12, leaves.reduce((sum, um) => sum + um, 0) / 60));

  function paint() {
    const x = REST_PX + leafPx(finger.current, pull.current);
    const bend = bendPx(finger.current, pull.current);
    leaf.current?.setAttribute(
      "d",
      `M${x - 210},${60 + bend * 0.6}Q${x - 40},${60 - bend} ${x},60`,
    );
  }

  async function enter(how: "straight" | "skewed" | "tip") {
    entered.current = true;
    const acted = await act({ do: "try", valve, leaves_um: [...leaves], how });
    if (acted === null) {
      away();
      return;
    }
    const told = { feel: String(acted.facts.feel), pull: Number(acted.facts.pull), how };
    pull.current = told.pull;
    setFelt(told);
    if (sound) rasp(told.pull);
    paint();
  }

  function away() {
    from.current = null;
    entered.current = false;
    pull.current = null;
    finger.current = 0;
    paint();
  }

  function move(event: PointerEvent) {
    if (from.current === null) return;
    const { width, height } = event.currentTarget.getBoundingClientRect();
    const scale = Math.min(width / DRAWN_PX, height / 120) || 1;
    finger.current = Math.max(0, (event.clientX - from.current.x) / scale);
    if (finger.current > GATE_PX && !entered.current) {
      enter(howEntered((event.clientY - from.current.y) / scale));
    }
    paint();
  }

  /** One push and back by itself, for keys: slower the harder it is held. */
  async function stroke() {
    setFelt(null);
    finger.current = GATE_PX;
    paint();
    await enter("straight");
    if (pull.current === null) return;
    const lasts = STROKE_MS * (1 + 2 * pull.current);
    const began = performance.now();
    const still = matchMedia("(prefers-reduced-motion: reduce)").matches;
    const step = (now: number) => {
      const share = still ? 1 : Math.min(1, (now - began) / lasts);
      finger.current = GATE_PX + STROKE_PX * share;
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
    if (ask > 0) latest.current();
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
        <path className="stem-end" d="M92,64H220V120H92Z" />
        <path className="pad-end" d="M84,0H228L218,44Q156,64 94,44Z" />
        <path
          ref={leaf}
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
        {felt ? WORDS[felt.feel] : "Push the leaf into the gap, straight."}
        {felt?.how === "skewed" && " (it went in skewed)"}
      </p>
    </div>
  );
}
