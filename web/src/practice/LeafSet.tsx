/** The leaves in the box, and the one or the stack in the hand. */
import { useEffect, useRef } from "react";
import type { Unit } from "../app/session";
import { leafWord, toggled } from "./leaves";

type Props = {
  box: readonly number[];
  inHand: readonly number[];
  /** What the leaves are marked in, and the marks of those that are marked otherwise. */
  unit: Unit;
  labels: Record<string, string>;
  /** Step leaves: tip and body of each. */
  steps: readonly (readonly number[])[];
  bodyUm: number | null;
  onStep: (tipUm: number, bodyUm: number) => void;
  /** Leaves bent to 45° that lie beside the others; none where there are none. */
  angledBox: readonly number[];
  angled: boolean;
  onAngled: (angled: boolean) => void;
  stacking: boolean;
  onStacking: (stacking: boolean) => void;
  onHold: (leaves: number[]) => void;
};

export function LeafSet(props: Props) {
  const { inHand, unit, stacking, onStacking, onHold, angled } = props;
  const box = angled ? props.angledBox : props.box;
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
        {props.angledBox.length > 0 && (
          <label className="tick-line">
            <input
              type="checkbox"
              checked={angled}
              onChange={(event) => props.onAngled(event.target.checked)}
            />
            angled
          </label>
        )}
      </div>
      <div className="fan" ref={fan}>
        {box.map((leaf) => (
          <button
            key={leaf}
            ref={leaf === first ? held : undefined}
            type="button"
            className="blade figures"
            aria-pressed={props.bodyUm === null && inHand.includes(leaf)}
            onClick={() => onHold(toggled(inHand, leaf, stacking))}
          >
            {props.labels[leaf] ?? leafWord(leaf, unit)}
          </button>
        ))}
      </div>
      {props.steps.length > 0 && !angled && (
        <fieldset className="fan steps">
          <legend>Step leaves: tip and body</legend>
          {props.steps.map(([tip = 0, body = 0]) => (
            <button
              key={tip}
              type="button"
              className="blade figures"
              aria-pressed={props.bodyUm === body && inHand[0] === tip}
              onClick={() => props.onStep(tip, body)}
            >
              {leafWord(tip, unit)}/{leafWord(body, unit)}
            </button>
          ))}
        </fieldset>
      )}
    </section>
  );
}
