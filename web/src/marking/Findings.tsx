/** What explains a sheet's figures better than ordinary scatter, each with its arithmetic. */
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import "./findings.css";

export function Findings({ findings }: { findings: Schemas["FindingOut"][] }) {
  if (findings.length === 0) {
    return (
      <p className="notice calm">
        Nothing explains these figures clearly better than ordinary scatter.
      </p>
    );
  }
  return (
    <section className="card findings" aria-label="Findings">
      <h2>What explains these figures</h2>
      <p className="soft">
        Likeliest first. Evidence to talk about, never an accusation: what it means is for you to
        decide.
      </p>
      <ol>
        {findings.map((finding) => (
          <li key={`${finding.kind}${finding.valves.join()}${finding.with_hand_in}`}>
            <h3>{finding.label}</h3>
            <p>
              {finding.says}{" "}
              {finding.with_hand_in && (
                <Link to={`/hand-in/${finding.with_hand_in}`}>
                  The sheet of {finding.with_student}
                </Link>
              )}
            </p>
            <Strength logOdds={finding.log_odds} />
            <details>
              <summary>The arithmetic</summary>
              <ul className="figures">
                {finding.arithmetic.map((line) => (
                  <li key={line}>{line}</li>
                ))}
              </ul>
            </details>
          </li>
        ))}
      </ol>
    </section>
  );
}

const FULL = Math.log(1e6);
const TENS = [1, 2, 3, 4, 5, 6];

/** The odds as a bar of tens: 10 times, 100 times, and so on to a million. */
function Strength({ logOdds }: { logOdds: number }) {
  const share = Math.min(1, logOdds / FULL);
  return (
    <svg viewBox="0 0 120 10" className="strength" aria-hidden="true" preserveAspectRatio="none">
      <rect width="120" height="10" className="track" />
      <rect width={120 * share} height="10" className="filled" />
      {TENS.slice(0, -1).map((ten) => (
        <path key={ten} d={`M${(120 * ten) / TENS.length},0V10`} />
      ))}
    </svg>
  );
}
