/** The fields of a rubric: a weight for each part, and the limits. */

import { useId } from "react";
import type { Schemas } from "../api/client";
import { inOtherUnit, mm } from "../app/lengths";
import { Figure } from "../kit/Figure";
import { percent } from "../marks/GradeCard";
import { shareOf, type TypedRubric } from "./rubric";

type Type = (typed: TypedRubric) => void;
type Part = Schemas["PartOut"];
type WeightsProps = { parts: readonly Part[]; typed: TypedRubric; onType: Type };

export function Weights({ parts, typed, onType }: WeightsProps) {
  return (
    <div className="card">
      <h2>Weights</h2>
      <p className="soft weights-head">
        <span>Part</span>
        <span>Weight</span>
        <span>Share</span>
        <span>At least, %</span>
      </p>
      <ul className="weights">
        {parts.map((part) => (
          <Weight key={part.part} part={part} typed={typed} onType={onType} />
        ))}
      </ul>
    </div>
  );
}

function Weight({ part, typed, onType }: { part: Part; typed: TypedRubric; onType: Type }) {
  const { part: name, label, about } = part;
  const share = shareOf(name, typed);
  return (
    <li>
      <span>
        <b>{label}</b>
        <small>{about}</small>
      </span>
      <Figure
        maxLength={6}
        placeholder="left out"
        aria-label={`Weight of ${label}`}
        value={typed.weights[name] ?? ""}
        onType={(weight) => onType({ ...typed, weights: { ...typed.weights, [name]: weight } })}
      />
      <span className="figures">{share === null ? "" : percent(share)}</span>
      <Figure
        maxLength={5}
        placeholder="no limit"
        aria-label={`Least of ${label}, in per cent`}
        value={typed.least[name] ?? ""}
        onType={(least) => onType({ ...typed, least: { ...typed.least, [name]: least } })}
      />
    </li>
  );
}

type LimitsProps = { toleranceMm: number | null; typed: TypedRubric; onType: Type };

export function Limits({ toleranceMm, typed, onType }: LimitsProps) {
  const other = inOtherUnit(typed.zero, "mm");
  return (
    <div className="card">
      <h2>Limits</h2>
      <div className="rubric-limits">
        <Limit
          label="Pass mark"
          most={5}
          value={typed.pass}
          says="per cent"
          onType={(pass) => onType({ ...typed, pass })}
        />
        {toleranceMm !== null && (
          <Limit
            label="A reading scores nothing at ±"
            most={8}
            value={typed.zero}
            empty={`beyond ${toleranceMm}`}
            says={`mm${other ? ` (${other})` : ""}; falling evenly from ${mm(toleranceMm)}. Blank: all or nothing`}
            onType={(zero) => onType({ ...typed, zero })}
          />
        )}
        <Limit
          label="Time"
          most={5}
          value={typed.minutes}
          empty="not timed"
          says="minutes; nothing at twice that"
          onType={(minutes) => onType({ ...typed, minutes })}
        />
      </div>
      {typed.zero.trim() !== "" && (
        <p className="soft">
          Such a grade tells how far a reading lies from the key, so students see it only when you
          release grades on the board. They see their marks with reasons at once.
        </p>
      )}
    </div>
  );
}

type LimitProps = {
  label: string;
  most: number;
  value: string;
  says: string;
  empty?: string;
  onType: (text: string) => void;
};

function Limit({ label, most, value, says, empty, onType }: LimitProps) {
  const id = useId();
  return (
    <div>
      <label htmlFor={id}>{label}</label>
      <Figure id={id} maxLength={most} value={value} placeholder={empty ?? ""} onType={onType} />
      <span className="soft">{says}</span>
    </div>
  );
}
