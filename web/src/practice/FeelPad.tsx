/**
 * The gap seen from the side, and the leaf on its way in. The finger pushes, the leaf follows as
 * far as the gap lets it; the feel comes from the server the moment it touches the gap.
 *
 * Where the rocker works through a bridge, the leaf comes to its near side first, and only pushed
 * on does it lie under both.
 */
import type { Unit } from "../app/session";
import { sumWords } from "./leaves";
import { DRAWN_PX, type LeafProps, REST_PX, useLeaf } from "./useLeaf";

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
const GAPS = { opening: "Gap", closing: "Closing gap", running: "Running gap" };
const PUSH = "Push the leaf into the gap, straight.";
const PUSH_BRIDGED = "Push the leaf in, straight, through both sides of the bridge.";

type Props = LeafProps & { unit: Unit };

export function FeelPad({ unit, ...props }: Props) {
  const { valve, leaves, bridged } = props;
  const { drawn, felt, handlers } = useLeaf(props);
  const thick = Math.max(3, Math.min(12, leaves.reduce((sum, um) => sum + um, 0) / 60));
  return (
    <div className="feel">
      <svg
        viewBox={`0 0 ${DRAWN_PX} 120`}
        className="feel-pad"
        role="img"
        aria-label={`${GAPS[props.gap]} of valve ${valve}: push the leaf in from the left, or press F`}
        {...handlers}
      >
        {bridged ? <BridgeEnds /> : <StemEnds />}
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
        {felt ? WORDS[felt.feel] : bridged ? PUSH_BRIDGED : PUSH}
        {felt && HOWS[felt.how]}
      </p>
    </div>
  );
}

function BridgeEnds() {
  return (
    <>
      <path className="stem-end" d="M92,64H128V120H92ZM168,64H204V120H168Z" />
      <path className="pad-end" d="M84,22H212V44H168V34H128V44H84Z" />
      <path className="pad-end" d="M120,0H176Q172,16 148,20Q124,16 120,0Z" />
    </>
  );
}

function StemEnds() {
  return (
    <>
      <path className="stem-end" d="M92,64H220V120H92Z" />
      <path className="pad-end" d="M84,0H228L218,44Q156,64 94,44Z" />
    </>
  );
}
