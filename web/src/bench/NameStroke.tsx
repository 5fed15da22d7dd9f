/** Name the stroke: the mark alone does not tell it; what this engine lets feel and see does. */
import { useState } from "react";
import { degrees } from "../app/lengths";
import { type Crank, useTold } from "./crank";
import { cycleDeg, cylinderOf, segmentAt, type Table } from "./lookup";
import "./name-stroke.css";

const STROKES = ["power", "exhaust", "intake", "compression"];
/** Besides what this engine itself offers: the drawing's own cam. */
const CAM = { name: "cam", does: "Look at the cam" };
/** Nearer to a dead centre than this the stroke is not asked for: nobody could tell it. */
const CLEAR_DEG = 10;

type Sign = string;
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
        {[...table.engine.looks, CAM]
          .filter(({ name }) => name !== "companion" || companion !== null)
          .map(({ name: sign, does }) => (
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
          ))}
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
    const { followers, lobes } = at(companion).signs;
    return `cylinder ${companion.cylinder}: ${followers ?? lobes}`;
  }
  if (sign === "cam") {
    const fired = cycleDeg(cylinder, crank.camDeg);
    return `its pointer has come ${degrees(fired / 2)} past the ${number} on it, ${degrees(fired)} of crank`;
  }
  if (sign === "rotor") return `it points towards lead ${leadAt(table, crank.camDeg)}`;
  return at(cylinder).signs[sign as keyof Table["segments"][number]["signs"]] ?? "";
}

/** Which lead the rotor points towards; before the first change it is still at the last one. */
function leadAt(table: Table, camDeg: number): number | undefined {
  const { rotor } = table.engine;
  return (rotor.filter((stretch) => stretch.from_deg <= camDeg).at(-1) ?? rotor.at(-1))?.cylinder;
}
