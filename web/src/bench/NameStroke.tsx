/** Name the stroke: the mark alone does not tell it; rockers, lobes, air and the cam do. */
import { useState } from "react";
import { degrees } from "../app/lengths";
import { type Crank, useTold } from "./crank";
import { cycleDeg, cylinderOf, segmentAt, type Table } from "./lookup";
import "./name-stroke.css";

const STROKES = ["power", "exhaust", "intake", "compression"];
const SIGNS = [
  { sign: "rockers", does: "Wiggle its rockers" },
  { sign: "lobes", does: "Look at its lobes" },
  { sign: "air", does: "Thumb on its plug hole" },
  { sign: "companion", does: "Wiggle its companion's rockers" },
  { sign: "cam", does: "Look at the cam" },
] as const;
/** Nearer to a dead centre than this the stroke is not asked for: nobody could tell it. */
const CLEAR_DEG = 10;

type Sign = (typeof SIGNS)[number]["sign"];
type Asked = { cylinder: number; atDeg: number; signs: readonly Sign[]; answer: string | null };

type Props = { table: Table; crank: Crank; onCam: (shown: boolean) => void };

export function NameStroke({ table, crank, onCam }: Props) {
  const [asked, setAsked] = useState<Asked>(() => ask(table, crank));
  const [score, setScore] = useState({ right: 0, of: 0 });
  // Turning on makes it another place: the answer given no longer holds.
  const moved = useTold(crank, (deg) => String(Math.abs(deg - asked.atDeg) > 0.06)) === "true";
  const cylinder = cylinderOf(table, asked.cylinder);
  const stroke = segmentAt(table.segments, cycleDeg(cylinder, crank.camDeg)).stroke;
  const answered = asked.answer !== null && !moved;
  const companion = cylinder.companion;

  function next() {
    setAsked(ask(table, crank));
    onCam(false);
  }

  function look(sign: Sign) {
    setAsked({
      ...asked,
      atDeg: crank.deg,
      signs: [...(moved ? [] : asked.signs), sign],
      answer: null,
    });
    if (sign === "cam") onCam(true);
  }

  function answer(given: string) {
    setAsked({ ...asked, atDeg: crank.deg, answer: given });
    setScore({ right: score.right + (given === stroke ? 1 : 0), of: score.of + 1 });
    onCam(true);
  }

  return (
    <section className="card name-stroke" aria-label="Name the stroke">
      <p className="ask">
        On which stroke is cylinder <b>{asked.cylinder}</b>?
      </p>
      <div className="strokes">
        {STROKES.map((name) => (
          <button
            key={name}
            type="button"
            className="button"
            disabled={answered}
            data-right={answered && name === stroke}
            data-wrong={answered && name === asked.answer && name !== stroke}
            onClick={() => answer(name)}
          >
            {name}
          </button>
        ))}
      </div>
      <ul className="signs">
        {SIGNS.filter(({ sign }) => sign !== "companion" || companion !== null).map(
          ({ sign, does }) => (
            <li key={sign}>
              <button type="button" className="button" onClick={() => look(sign)}>
                {does}
              </button>
              <span role="status">
                {(asked.signs.includes(sign) && !moved) || answered
                  ? signWords(table, crank, sign, asked.cylinder)
                  : ""}
              </span>
            </li>
          ),
        )}
      </ul>
      <div className="name-foot">
        <p role="status">
          {answered &&
            (asked.answer === stroke
              ? `Right: ${stroke}.`
              : `Not ${asked.answer}: cylinder ${asked.cylinder} is on ${stroke}.`)}
          {moved && "You turned on: look again, then name it."}
        </p>
        <p className="figures">
          {score.right} of {score.of}
        </p>
        <button type="button" className="button main" onClick={next}>
          Spin the crank
        </button>
      </div>
    </section>
  );
}

/** Spins the crank to somewhere, and asks for a cylinder that is clear of its dead centres. */
function ask(table: Table, crank: Crank): Asked {
  const spun = Math.floor(Math.random() * 72) * 10 + 5;
  const clear = table.engine.cylinders.filter((c) => {
    const into = cycleDeg(c, spun) % 180;
    return Math.min(into, 180 - into) >= CLEAR_DEG;
  });
  const from = clear.length > 0 ? clear : table.engine.cylinders;
  const chosen = from[Math.floor(Math.random() * from.length)];
  crank.set(spun);
  return { cylinder: chosen?.cylinder ?? 1, atDeg: spun, signs: [], answer: null };
}

function signWords(table: Table, crank: Crank, sign: Sign, number: number): string {
  const cylinder = cylinderOf(table, number);
  const at = (other: typeof cylinder) => segmentAt(table.segments, cycleDeg(other, crank.camDeg));
  if (sign === "companion") {
    const companion = cylinderOf(table, cylinder.companion ?? number);
    return `cylinder ${companion.cylinder}: ${at(companion).signs.rockers}`;
  }
  if (sign === "cam") {
    const fired = cycleDeg(cylinder, crank.camDeg);
    return `its pointer has come ${degrees(fired / 2)} past the ${number} on it, ${degrees(fired)} of crank`;
  }
  return at(cylinder).signs[sign];
}
