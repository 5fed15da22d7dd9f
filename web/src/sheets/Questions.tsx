/** The questions before handing in: likely slips and blanks, to be looked at once more. */
import type { Field } from "../api/client";
import { Confirm } from "../app/Dialog";

type Props = {
  questions: readonly Field[];
  pending: boolean;
  onBack: () => void;
  onConfirm: () => void;
};

export function Questions({ questions, pending, onBack, onConfirm }: Props) {
  return (
    <Confirm
      open={questions.length > 0}
      title="Once more before you hand in"
      instead="Go back and look"
      does={pending ? "Handing in…" : "It is right, hand in"}
      pending={pending}
      onClose={onBack}
      onConfirm={onConfirm}
    >
      <ul className="questions">
        {questions.map((question) => (
          <li key={question.path}>
            <b>{subject(question.path)}</b> {question.problem}
          </li>
        ))}
      </ul>
      <p className="soft">A sheet is handed in once. It can't be changed afterwards.</p>
    </Confirm>
  );
}

/** What a question is about: `valve 3.reading` is about valve 3. */
function subject(path: string): string {
  if (path === "record") return "Safety:";
  return (path.split(".")[0] ?? "").replace("valve", "Valve");
}
