/** What a hand tells apart, felt blind: its threshold on a scale of hundredths, with its interval. */
import type { Schemas } from "../api/client";
import { mm, thou } from "../app/lengths";
import "./feel.css";

type Hand = Schemas["ThresholdOut"];

/** As far as the scale goes: a hand that tells no better has not felt yet. */
const FAR_MM = 0.05;
const WIDTH = 300;

const at = (lengthMm: number) => (WIDTH * Math.min(lengthMm, FAR_MM)) / FAR_MM;

export function Feel({ hand }: { hand: Hand }) {
  const { threshold_mm: threshold, low_mm: low, high_mm: high } = hand;
  return (
    <div className="feel-hand">
      {threshold === null ? (
        <p>
          <b>Your guesses do not follow the gap yet.</b>{" "}
          <span className="soft">
            They stay near the size on the leaf. Feel whether it drags, and guess above or below it.
          </span>
        </p>
      ) : (
        <>
          <p>
            Tells gaps apart that differ by <b className="figures">{fine(threshold)}</b>{" "}
            <span className="soft">({between(low, high)}), three times in four.</span>
          </p>
          <svg viewBox={`0 0 ${WIDTH} 26`} className="feel-scale" aria-hidden="true">
            <path className="scale" d={`M0,20H${WIDTH}${ticks()}`} />
            <path className="between" d={`M${at(low ?? 0)},10H${at(high ?? FAR_MM)}`} />
            <circle cx={at(threshold)} cy="10" r="5" />
          </svg>
        </>
      )}
      <p className="soft">
        {hand.words_right} of {hand.tries} felt by their right name; guesses are {leans(hand)}.
      </p>
    </div>
  );
}

function between(low: number | null, high: number | null): string {
  const least = low === null ? "0" : fine(low);
  return high === null ? `at least ${least}` : `between ${least} and ${fine(high)}`;
}

function fine(lengthMm: number): string {
  return `${lengthMm.toFixed(3)} mm (${thou(lengthMm)})`;
}

function leans({ off_mm: off }: Hand): string {
  if (Math.abs(off) < 0.003) return "right on the mean";
  return `${mm(Math.abs(off))} too ${off < 0 ? "small" : "large"} on the mean`;
}

function ticks(): string {
  return [1, 2, 3, 4, 5].map((hundredth) => `M${at(hundredth / 100)},16V24`).join("");
}
