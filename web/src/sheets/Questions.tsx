/** The questions before handing in: likely slips and blanks, to be looked at once more. */
import { useEffect, useRef } from "react";
import type { Field } from "../api/client";

type Props = {
  questions: readonly Field[];
  pending: boolean;
  onBack: () => void;
  onConfirm: () => void;
};

export function Questions({ questions, pending, onBack, onConfirm }: Props) {
  const dialog = useRef<HTMLDialogElement>(null);
  const open = questions.length > 0;
  useEffect(() => {
    if (open) dialog.current?.showModal();
    else dialog.current?.close();
  }, [open]);
  // Closed before the page goes back to a field: a modal dialog keeps the focus to itself.
  const back = () => {
    dialog.current?.close();
    onBack();
  };
  return (
    <dialog
      ref={dialog}
      className="card questions"
      aria-labelledby="questions-title"
      onCancel={(event) => {
        event.preventDefault();
        back();
      }}
    >
      <h2 id="questions-title">Once more before you hand in</h2>
      <ul>
        {questions.map((question) => (
          <li key={question.path}>
            <b>{question.path.split(".")[0]?.replace("valve", "Valve")}</b> {question.problem}
          </li>
        ))}
      </ul>
      <p className="soft">A sheet is handed in once. It can't be changed afterwards.</p>
      <div className="ways">
        <button type="button" className="button main" onClick={back}>
          Go back and look
        </button>
        <button type="button" className="button" disabled={pending} onClick={onConfirm}>
          {pending ? "Handing in…" : "It is right, hand in"}
        </button>
      </div>
    </dialog>
  );
}
