/** The marks of a crank wheel, wherever one is drawn: on the Bench, on a phone, on a sheet. */
import { onCircle } from "./geometry";

export const SIZE = 240;
export const C = SIZE / 2;
export const RADIUS = 102;
/** Marks closer than this stand at two depths, so that their labels stay apart. */
const CROWDED_DEG = 26;
/** Long labels need more room: they are drawn as large as short ones, for the back row. */
const LONG_CROWDED_DEG = 44;
const LONG = 2;
const LETTER_PX = 11;

/** means: what it is drawn as; of a bare wheel all are alike, for what they say is to be known. */
export type WheelMark = { label: string; deg: number; means?: string };

/** sense: 1 where the crank turns clockwise, seen from the front. */
export function WheelMarks({ marks, sense }: { marks: readonly WheelMark[]; sense: 1 | -1 }) {
  return placed(marks).map(({ mark, deep }) => {
    // A mark lines up with the fixed pointer when the crank has turned by its angle.
    const at = onCircle(C, C, RADIUS - (deep ? 44 : 18), -sense * mark.deg);
    const from = onCircle(C, C, RADIUS, -sense * mark.deg);
    const isLong = mark.label.length > LONG;
    const half = isLong ? (mark.label.length * LETTER_PX) / 2 + 4 : 0;
    return (
      <g key={`${mark.label}${mark.deg}`} className={`mark ${mark.means ?? ""}`}>
        <path d={`M${from.x},${from.y}L${at.x},${at.y}`} />
        <g transform={`rotate(${-sense * mark.deg} ${at.x} ${at.y})`}>
          {isLong ? (
            <rect x={at.x - half} y={at.y - 13} width={2 * half} height="26" rx="13" />
          ) : (
            <circle cx={at.x} cy={at.y} r="17" />
          )}
          <text x={at.x} y={at.y + 7} textAnchor="middle" className={isLong ? "long" : undefined}>
            {mark.label}
          </text>
        </g>
      </g>
    );
  });
}

/** With a second depth for those that crowd the one before them. */
function placed(given: readonly WheelMark[]) {
  const marks = [...given].sort((one, other) => one.deg - other.deg);
  let isDeep = false;
  return marks.map((mark, index) => {
    const before = marks.at(index - 1) ?? mark;
    const apart = (((mark.deg - before.deg) % 360) + 360) % 360;
    const room = mark.label.length > LONG ? LONG_CROWDED_DEG : CROWDED_DEG;
    const isCrowded = mark !== before && apart < room && mark.means !== "ignition";
    // In a row of crowded ones every other stands deep.
    isDeep = isCrowded && !isDeep;
    return { mark, deep: isDeep };
  });
}
