/** One valve by its own kind, standing still: for plates, lists and sheets, not to scale. */
import { GAP, gearOf, lobePath, lobeTurn, type Train } from "./gear";
import "./valve-sketch.css";

const ARM = 17;

type Props = {
  train: Train;
  size?: number;
  /** How far its valve is pressed down, in the drawing's own units. */
  down?: number;
  /** Its lobe, where it is in sight: how far it has turned past the follower, in crank degrees, and
   * which way round it turns. */
  lobe?: { past: number; sense: 1 | -1 } | undefined;
  nutLoose?: boolean;
  shimOut?: boolean;
  done?: boolean;
};

export function ValveSketch({ train, size = 60, down = 0, lobe, nutLoose, shimOut, done }: Props) {
  const gear = gearOf(train);
  const drawn = gear.draw({ arm: ARM, down, up: down > 0 ? 0 : GAP }, train);
  const pivot = gear.pivot?.(ARM);
  const own = lobe && gear.lobe?.(ARM);
  return (
    <svg
      viewBox="-32 0 64 92"
      width={size}
      height={size * 1.4}
      className="valve-sketch"
      aria-hidden="true"
    >
      {own && lobe && (
        <path className="lobe" d={lobePath(own)} transform={lobeTurn(own, lobe.past, lobe.sense)} />
      )}
      <path className="push-rod" d={drawn.rod} />
      <path className="spring" d={drawn.spring} />
      <path className="stem-top" d={drawn.stem} />
      <path className="rocker-arm" d={drawn.follower} />
      {pivot && <circle cx={pivot.x} cy={pivot.y} r="3.5" className="nut" />}
      {!shimOut && (
        <path
          className={nutLoose ? "nut loose" : "nut"}
          transform={nutLoose ? "translate(0,-5)" : undefined}
          d={drawn.adjuster}
        />
      )}
      {done && <path className="paint" d="M-10,26l8,8l16,-18" />}
    </svg>
  );
}
