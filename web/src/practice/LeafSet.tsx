/** The leaves in the box, and the one or the stack in the hand. */
import { useEffect, useRef } from "react";
import type { Unit } from "../app/session";
import { leafWord, toggled } from "./leaves";

type Props = {
  box: readonly number[];
  inHand: readonly number[];
  unit: Unit;
  stacking: boolean;
  onStacking: (stacking: boolean) => void;
  onHold: (leaves: number[]) => void;
};

export function LeafSet({ box, inHand, unit, stacking, onStacking, onHold }: Props) {
  const fan = useRef<HTMLDivElement>(null);
  const held = useRef<HTMLButtonElement>(null);
  const first = inHand[0];
  // biome-ignore lint/correctness/useExhaustiveDependencies: the held leaf is brought in sight when it changes
  useEffect(() => {
    if (!fan.current || !held.current) return;
    // The fan alone is scrolled, never the page under the hand.
    fan.current.scrollLeft =
      held.current.offsetLeft - fan.current.offsetLeft - fan.current.clientWidth / 2;
  }, [first]);
  return (
    <section className="leaf-set" aria-label="Leaves">
      <div className="leaf-head">
        <h2>Leaves, in {unit}</h2>
        <label className="tick-line">
          <input
            type="checkbox"
            checked={stacking}
            onChange={(event) => onStacking(event.target.checked)}
          />
          stack several
        </label>
      </div>
      <div className="fan" ref={fan}>
        {box.map((leaf) => (
          <button
            key={leaf}
            ref={leaf === first ? held : undefined}
            type="button"
            className="blade figures"
            aria-pressed={inHand.includes(leaf)}
            onClick={() => onHold(toggled(inHand, leaf, stacking))}
          >
            {leafWord(leaf, unit)}
          </button>
        ))}
      </div>
    </section>
  );
}
