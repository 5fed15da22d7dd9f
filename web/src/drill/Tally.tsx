/** Ten boxes: asked, right, wrong, by shape and word. */
import type { Schemas } from "../api/client";

type Question = Schemas["AskedOut"];
type Props = { drill: Schemas["DrillOut"]; now: number; onGo: (number: number) => void };

export function Tally({ drill, now, onGo }: Props) {
  const right = drill.questions.filter((question) => question.right).length;
  return (
    <nav className="tally" aria-label="Questions">
      {drill.questions.map((question) => (
        <button
          key={question.number}
          type="button"
          className={`tally-box ${state(question)}`}
          aria-current={question.number === now ? "step" : undefined}
          aria-label={`Question ${question.number}, ${state(question)}`}
          onClick={() => onGo(question.number)}
        >
          {question.number}
          <span aria-hidden="true">{SIGN[state(question)]}</span>
        </button>
      ))}
      <p className="figures">
        {right} right of {drill.questions.length}
      </p>
    </nav>
  );
}

const SIGN = { open: "", shown: "·", right: "✓", wrong: "✗" };

function state(question: Question): keyof typeof SIGN {
  if (!question.answered) return "open";
  if (question.right === null) return "shown";
  return question.right ? "right" : "wrong";
}
