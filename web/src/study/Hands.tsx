/** Each student's bias against the key with its interval, and the repeatability as a band. */
import { scaleLinear } from "d3-scale";
import type { Schemas } from "../api/client";
import { Axis } from "../charts/Axis";
import { Plot } from "../charts/Plot";
import { Told } from "../charts/Told";
import { type Lengths, useLengths } from "./lengths";

type Hand = Schemas["HandOut"];

const ROW = 44;
const NAMES = 150;
const MARGIN = 18;
const LEAST_MM = 0.02;
const CAP = 7;

export function Hands({ study }: { study: Schemas["StudyOut"] }) {
  const lengths = useLengths();
  const far = lengths.figure(farthestMm(study.hands));
  const height = study.hands.length * ROW;
  return (
    <section className="card" aria-label="Bias and repeatability by student">
      <h2>Bias and repeatability by student</h2>
      <p className="soft">
        The dot is the bias: how far a student reads from the key, with its 95 % confidence interval
        as the line. The broad band is the repeatability: one standard deviation of the same student
        measuring again.
      </p>
      <Plot
        title={`Bias and repeatability by student, ${lengths.unit}`}
        height={height}
        className="study-hands"
      >
        {(width) => {
          const x = scaleLinear([-far, far], [NAMES, width - MARGIN]).nice();
          return (
            <>
              {study.hands.map((hand, row) => (
                <HandRow key={hand.student} {...{ hand, lengths, width, x }} top={row * ROW} />
              ))}
              <path className="zero" d={`M${x(0)},0V${height}`} />
              <Axis
                side="bottom"
                scale={x}
                at={height}
                title={`reading less key, ${lengths.unit}; left is tight, right is loose`}
              />
            </>
          );
        }}
      </Plot>
      {study.gap === "opening" && (
        <p className="soft">
          κ tells how far verdicts agree with the key beyond chance; 1 is always.
          {study.together !== null &&
            ` All together: κ ${study.together.kappa.toFixed(2)} (Fleiss), from ${study.together.judged} verdicts of everybody; in ${study.together.alike} all say the same.`}
        </p>
      )}
    </section>
  );
}

type RowProps = {
  hand: Hand;
  lengths: Lengths;
  width: number;
  top: number;
  x: (figure: number) => number;
};

function HandRow({ hand, lengths, width, top, x }: RowProps) {
  const at = (lengthMm: number) => x(lengths.figure(lengthMm));
  const y = top + ROW / 2;
  const [low, high] = [at(hand.bias_low_mm), at(hand.bias_high_mm)];
  const spread = [at(hand.bias_mm - hand.spread_mm), at(hand.bias_mm + hand.spread_mm)];
  return (
    <Told says={figuresOf(hand, lengths)}>
      <rect className="under" x="0" y={top} width={width} height={ROW} />
      <text className="name" x="0" y={y + 5}>
        {hand.student}
      </text>
      <path className="band" d={`M${spread[0]},${y}H${spread[1]}`} />
      <path
        className="interval"
        d={`M${low},${y}H${high}M${low},${y - CAP}v${2 * CAP}M${high},${y - CAP}v${2 * CAP}`}
      />
      <circle className="dot" cx={at(hand.bias_mm)} cy={y} r="5" />
    </Told>
  );
}

function figuresOf(hand: Hand, lengths: Lengths): string {
  const kappa =
    hand.agreed === null
      ? ""
      : `, κ ${hand.agreed.kappa.toFixed(2)} (${hand.agreed.alike} of ${hand.agreed.judged} alike)`;
  return `${hand.student}: bias ${lengths.signed(hand.bias_mm)}, repeatability ±${lengths.write(
    hand.spread_mm,
  )}${kappa}`;
}

function farthestMm(hands: readonly Hand[]): number {
  return Math.max(
    LEAST_MM,
    ...hands.flatMap((hand) => [
      Math.abs(hand.bias_low_mm),
      Math.abs(hand.bias_high_mm),
      Math.abs(hand.bias_mm) + hand.spread_mm,
    ]),
  );
}
