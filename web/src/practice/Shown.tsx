/** What the instructor has shown: the next leaf, and why. */
import { useQuery } from "@tanstack/react-query";
import { adviceQuery, type GapKind } from "../api/queries";
import type { Unit } from "../app/session";
import { sumWords } from "./leaves";

type ShownProps = {
  runId: number;
  valve: number;
  gap: GapKind;
  step: number;
  inHand: number[];
  /** What the leaves of the box are marked in. */
  unit: Unit;
  onHold: (leaves: number[]) => void;
  onShow: () => void;
};

export function Shown(props: ShownProps) {
  const { runId, valve, gap, step, inHand, unit, onHold, onShow } = props;
  const { data } = useQuery(adviceQuery(runId, valve, gap, step));
  if (!data) return null;
  const leaves = data.leaves_mm?.map((leaf) => Math.round(leaf * 1000)) ?? null;
  return (
    <div className="notice calm">
      <p>{data.says}</p>
      {leaves && (
        <>
          <p className="soft">{data.proves}</p>
          {leaves.join() === inHand.join() ? (
            <button type="button" className="button" onClick={onShow}>
              Show me: push it in
            </button>
          ) : (
            <button type="button" className="button" onClick={() => onHold(leaves)}>
              Take {sumWords(leaves, unit)}
            </button>
          )}
        </>
      )}
    </div>
  );
}
