/** Why it is so, where the commonest mistake is seen to be one, and how it is cured. */
import type { Schemas } from "../api/client";
import { counted } from "../app/words";

export function Proof({ proof }: { proof: Schemas["ProofOut"] }) {
  const { shows, mistakes } = proof;
  return (
    <section className="proof" aria-label="Proof">
      <p className="proof-shows">{shows?.says ?? proof.because}</p>
      <ul className="room-mistakes">
        {mistakes.map((one) => (
          <li key={one.mistake}>
            <b>
              {one.label}: {counted(one.answers, "answer")}
            </b>
            {one.sure > 0 && `, ${one.sure} of them sure`}. {one.cure}
          </li>
        ))}
      </ul>
      <details>
        <summary>Step by step</summary>
        <ol>
          {proof.steps.map((step) => (
            <li key={step}>{step}</li>
          ))}
        </ol>
        {shows && <p>{proof.because}</p>}
      </details>
    </section>
  );
}
