/** Dragging a round drawing about its axis, as a hand on the throw does: the crank turns with it. */
import { type PointerEvent, useRef } from "react";
import { type Crank, pastInTurn } from "./crank";

/** Finer than a pixel at the rim. */
const STEP_DEG = 0.1;

/**
 * axis: where the drawing's axis lies in its element, in pixels, measured when a finger comes down
 * or moves. sense: 1 where the crank turns clockwise.
 */
export function useDragTurn(
  crank: Crank,
  sense: 1 | -1,
  axis: (box: DOMRect) => { x: number; y: number },
) {
  const held = useRef<number | null>(null);
  const at = (event: PointerEvent<Element>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const { x, y } = axis(box);
    const [right, down] = [event.clientX - box.left - x, event.clientY - box.top - y];
    return (Math.atan2(right, -down) * 180) / Math.PI;
  };
  const release = () => {
    held.current = null;
  };
  return {
    onPointerDown: (event: PointerEvent<Element>) => {
      held.current = at(event);
      event.currentTarget.setPointerCapture?.(event.pointerId);
    },
    onPointerMove: (event: PointerEvent<Element>) => {
      if (held.current === null) return;
      const now = at(event);
      const by = pastInTurn(now, held.current);
      if (Math.abs(by) < STEP_DEG) return;
      held.current = now;
      crank.turn(sense * by);
    },
    onPointerUp: release,
    onPointerCancel: release,
  };
}
