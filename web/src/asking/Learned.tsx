/** After the proof: whether one's own answer was right, why not, and how to get it right next time. */
import { Words } from "../app/Words";
import type { Question } from "./useAnswer";

export function Learned({ question }: { question: Question }) {
  const { own } = question;
  return (
    <div className="learned">
      {own !== null && own.right !== null && (
        <p className={own.right ? "notice calm" : "notice"}>
          <b>{own.right ? "Right." : "Not so."}</b> <Words text={own.wrong?.says ?? ""} />
        </p>
      )}
      {own?.wrong && own.wrong.label !== "" && (
        <p>
          <b>{own.wrong.label}.</b> <Words text={own.wrong.cure} />
        </p>
      )}
      {own?.right !== false && (
        <p>
          <Words text={question.because ?? ""} />
        </p>
      )}
      {(question.steps ?? []).length > 0 && (
        <details>
          <summary>Step by step</summary>
          <ol>
            {question.steps?.map((step) => (
              <li key={step}>{step}</li>
            ))}
          </ol>
        </details>
      )}
    </div>
  );
}
