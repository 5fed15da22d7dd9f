/**
 * The gap seen from the side, and the leaf on its way in. The finger pushes, the leaf follows as
 * far as the gap lets it; the feel comes from the server the moment it touches the gap.
 *
 * Where the rocker works through a bridge, the leaf comes to its near side first, and only pushed
 * on does it lie under both.
 */
import type { Unit } from "../app/session";
import { stepWords, sumWords } from "./leaves";
import { DRAWN_PX, type Felt, type LeafProps, REST_PX, useLeaf } from "./useLeaf";

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

type Props = LeafProps & {
  unit: Unit;
  /** The part above the valve: what the gap is drawn between. */
  part: string;
  /** Whether nothing but the leaf itself tells how it is held. */
  blind?: boolean;
};

export function FeelPad({ unit, part, blind = false, ...props }: Props) {
  const { valve, leaves, bodyUm, bridged } = props;
  const { drawn, felt, handlers } = useLeaf(props);
  // The drawn gap would tell it to the eye.
  const shown = blind ? null : felt;
  const thick = Math.max(3, Math.min(12, leaves.reduce((sum, um) => sum + um, 0) / 60));
  return (
    <div className="feel">
      <svg
        viewBox={`0 0 ${DRAWN_PX} 120`}
        className="feel-pad"
        role="img"
        aria-label={
          blind
            ? "A gap that is not told: push the leaf in from the left"
            : `${GAPS[props.gap]} of valve ${valve}: push the leaf in from the left, or press F`
        }
        {...handlers}
      >
        {bridged ? (
          <BridgeEnds up={gapPx(thick, shown)} />
        ) : (
          <Ends part={part} up={gapPx(thick, shown)} />
        )}
        <g transform={`translate(0 ${4 - thick / 2})`}>
          <path
            ref={drawn}
            className="leaf"
            strokeWidth={thick}
            d={`M${REST_PX - 210},60H${REST_PX}`}
          />
        </g>
        <path className="hand" d="M2,96h34m-9,-8l9,8l-9,8" />
      </svg>
      <p className="feel-sum figures">
        {bodyUm === null ? sumWords(leaves, unit) : stepWords(leaves[0] ?? 0, bodyUm, unit)}
        {props.angled && ", angled"}
      </p>
      {!blind && (
        <meter
          className="pull"
          min={0}
          max={1}
          value={felt?.pull ?? 0}
          aria-label="How hard the leaf is held"
        />
      )}
      <p className={`feel-word ${felt?.feel ?? ""}`} data-testid="feel">
        {felt ? wordsOf(felt) : bridged ? PUSH_BRIDGED : PUSH}
        {felt && HOWS[felt.how]}
      </p>
    </div>
  );
}

/** In and out for everybody; the word for it only where it is told. */
function wordsOf({ feel, isIn, bodyIn }: Felt): string {
  const tip = feel === null ? (isIn ? "it is in" : "it stays out") : (WORDS[feel] ?? feel);
  if (bodyIn === null) return tip;
  return `tip: ${tip}; body: ${bodyIn ? "in, too" : "stays out"}`;
}

const ROOM_PX = 3;

/** How far the drawn gap is open: a free leaf has room above it, one that is held has none, and one
 * that was refused is thicker than the gap. */
function gapPx(thickPx: number, felt: Felt | null): number {
  if (felt === null) return thickPx + ROOM_PX;
  if (!felt.isIn) return thickPx * 0.6;
  return thickPx + Math.max(0, (0.3 - felt.pull) * 20);
}

const STEM_Y = 64;

function BridgeEnds({ up }: { up: number }) {
  return (
    <>
      <path className="stem-end" d="M92,64H128V120H92ZM168,64H204V120H168Z" />
      <g transform={`translate(0 ${STEM_Y - 44 - up})`}>
        <path className="pad-end" d="M84,22H212V44H168V34H128V44H84Z" />
        <path className="pad-end" d="M120,0H176Q172,16 148,20Q124,16 120,0Z" />
      </g>
    </>
  );
}

/** What the leaf goes between: a pad on a stem, or a lobe on a bucket or finger. */
function Ends({ part, up }: { part: string; up: number }) {
  if (part === "bucket" || part === "finger") {
    return (
      <>
        <path className="stem-end" d="M84,72Q84,64 92,64H220Q228,64 228,72V120H84Z" />
        <g transform={`translate(0 ${STEM_Y - 54 - up})`}>
          <circle className="pad-end" cx="156" cy="-16" r="70" />
        </g>
      </>
    );
  }
  return (
    <>
      <path className="stem-end" d="M92,64H220V120H92Z" />
      <g transform={`translate(0 ${STEM_Y - 54 - up})`}>
        <path className="pad-end" d="M84,0H228L218,44Q156,64 94,44Z" />
      </g>
    </>
  );
}
