/** Skills with how surely each is shown, who signed it off, and where it is trained next. */

import type { ReactNode } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { day } from "../app/school";
import "./progress.css";

type Skill = Schemas["SkillOut"];

const STATES: Record<string, string> = {
  shown: "competent",
  nearly: "nearly there",
  "not-yet": "not yet competent",
  unseen: "not attempted",
};

type Props = { skills: readonly Skill[]; ways?: (skill: Skill) => ReactNode };

export function Skills({ skills, ways }: Props) {
  return (
    <ul className="skills">
      {skills.map((skill) => (
        <li key={skill.skill} className="card" data-state={skill.state}>
          <div>
            <b>{skill.label}</b>
            <Shares shares={skill.shares} />
          </div>
          <p>
            <span className="state">{STATES[skill.state]}</span>
            {skill.state !== "unseen" && ` ${skill.says}`}
            {skill.signed && (
              <span className="signed">
                ✓ signed off by {skill.signed.by}, {day(skill.signed.at)}
                {skill.signed.note && `: ${skill.signed.note}`}
              </span>
            )}
          </p>
          <div className="ways">
            {skill.train && <Link to={skill.train.path}>Next: {skill.train.title}</Link>}
            {ways?.(skill)}
          </div>
        </li>
      ))}
    </ul>
  );
}

const MOST = 10;

/** The last pieces of work as bars; the line is what counts as right enough. */
function Shares({ shares }: { shares: readonly number[] }) {
  const last = shares.slice(-MOST);
  return (
    <svg className="shares" viewBox="0 0 100 24" aria-hidden="true">
      {last.map((share, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: pieces of work in their order
        <rect key={place} x={place * 10} y={24 - 22 * share} width="7" height={22 * share + 0.5} />
      ))}
      <line x1="0" x2="100" y1={24 - 22 * 0.9} y2={24 - 22 * 0.9} />
    </svg>
  );
}
