/**
 * The crank: one angle that many drawings follow, and the cam that lags behind it by the slack.
 *
 * What turns is painted straight into the page once a frame (`usePaint`), which holds the
 * frame rate on a slow tablet; what is told in words re-renders only when the words change
 * (`useTold`), and words come only as often as they can be read.
 *
 * Looking (the start): the crank goes anywhere, and the cam with it. Turning as on the engine
 * (`asOnEngine`): jumps go round the running way, an engine that allows one direction refuses
 * to go back, and after turning back the cam stands still until the slack is taken up.
 */
import { useEffect, useLayoutEffect, useRef, useSyncExternalStore } from "react";
import { CYCLE_DEG, normalise } from "./lookup";

export type Turning = { reverseAllowed: boolean; backlashDeg: number };

const FREE: Turning = { reverseAllowed: true, backlashDeg: 0 };

const WORDS_MS = 50;

/** Tenths of a degree are finer than anybody turns, and keep the figures quiet. */
const tenths = (deg: number) => Math.round(deg * 10) / 10;

/** The turn the short way round from one angle to another, -360 to 360. */
export function shortest(fromDeg: number, toDeg: number): number {
  const ahead = normalise(toDeg - fromDeg);
  return ahead > CYCLE_DEG / 2 ? ahead - CYCLE_DEG : ahead;
}

/** How far one place in a turn is past another, -180 to 180: 0.5° is 1° past 359.5°. */
export function pastInTurn(deg: number, fromDeg: number): number {
  return ((((deg - fromDeg + 180) % 360) + 360) % 360) - 180;
}

export class Crank {
  private angle: number;
  private lag = 0;
  private turned = 0;
  private turning: Turning;
  private real = false;
  private refusal = false;
  private frame = 0;
  private toldAt = Number.NEGATIVE_INFINITY;
  private readonly painters = new Set<(deg: number, camDeg: number) => void>();
  private readonly listeners = new Set<() => void>();

  constructor(deg: number, turning: Turning = FREE) {
    this.angle = normalise(tenths(deg));
    this.turning = turning;
  }

  get deg(): number {
    return this.angle;
  }

  /** The crank angle that the cam stands at: ahead of the crank by the slack not taken up. */
  get camDeg(): number {
    return normalise(this.angle + this.lag);
  }

  get lagDeg(): number {
    return this.lag;
  }

  /** Degrees turned since `asOnEngine` was chosen, both ways added up. */
  get turnedDeg(): number {
    return this.turned;
  }

  get isReal(): boolean {
    return this.real;
  }

  /** Whether the last thing tried was a turn back that this engine does not allow. */
  get refused(): boolean {
    return this.refusal;
  }

  readonly asOnEngine = (real: boolean) => {
    this.real = real;
    this.lag = 0;
    this.turned = 0;
    this.refusal = false;
    // A tick box follows the finger at once, not a frame later.
    this.paint();
    this.tell();
  };

  /** Turns by so many degrees; false where this engine does not allow it. */
  readonly turn = (byDeg: number): boolean => {
    if (this.real && byDeg < 0 && !this.turning.reverseAllowed) {
      this.refusal = true;
      this.changed();
      return false;
    }
    this.move(byDeg);
    return true;
  };

  /** To an angle: a jump while looking, round the running way as on the engine. */
  readonly set = (deg: number) => {
    const to = normalise(tenths(deg));
    this.move(this.real ? normalise(to - this.angle) : shortest(this.angle, to));
  };

  /** To an angle the short way, as a hand drags it. */
  readonly drag = (deg: number) => this.turn(shortest(this.angle, normalise(tenths(deg))));

  private move(byDeg: number) {
    this.angle = normalise(tenths(this.angle + byDeg));
    this.refusal = false;
    if (this.real) {
      this.turned += Math.abs(byDeg);
      this.lag = Math.max(0, Math.min(this.turning.backlashDeg, tenths(this.lag - byDeg)));
    }
    this.changed();
  }

  private changed() {
    if (this.frame === 0) this.frame = requestAnimationFrame(this.paint);
  }

  private readonly paint = () => {
    this.frame = 0;
    for (const painter of this.painters) painter(this.angle, this.camDeg);
    // While the crank turns, words come no faster than they can be read; at rest, the last ones.
    if (performance.now() - this.toldAt < WORDS_MS) this.changed();
    else this.tell();
  };

  private tell() {
    this.toldAt = performance.now();
    for (const listener of this.listeners) listener();
  }

  readonly onPaint = (painter: (deg: number, camDeg: number) => void) => {
    this.painters.add(painter);
    return () => {
      this.painters.delete(painter);
    };
  };

  readonly subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => {
      this.listeners.delete(listener);
    };
  };
}

/** Calls `painter` with the angle now and at every frame in which it has changed. */
export function usePaint(crank: Crank, painter: (deg: number, camDeg: number) => void) {
  const latest = useRef(painter);
  useLayoutEffect(() => {
    latest.current = painter;
    painter(crank.deg, crank.camDeg);
  });
  useEffect(() => crank.onPaint((deg, camDeg) => latest.current(deg, camDeg)), [crank]);
}

/** Calls `writer` with the angle now, and again as often as words are told while it turns. */
export function useWords(crank: Crank, writer: (deg: number, camDeg: number) => void) {
  const latest = useRef(writer);
  useLayoutEffect(() => {
    latest.current = writer;
    writer(crank.deg, crank.camDeg);
  });
  useEffect(() => crank.subscribe(() => latest.current(crank.deg, crank.camDeg)), [crank]);
}

/** A text made from the angle; the component renders again only when the text differs. */
export function useTold(crank: Crank, tell: (deg: number, camDeg: number) => string): string {
  return useSyncExternalStore(crank.subscribe, () => tell(crank.deg, crank.camDeg));
}
