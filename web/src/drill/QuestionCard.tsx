/** One question: options by touch, mouse and keys; the answer and its reason once it is given. */

import { useEffect, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { Badge } from "../app/Badge";
import { sentence } from "../app/feedback";
import { Words } from "../app/Words";
import { ColleaguesSheet } from "../marks/ColleaguesSheet";

type Props = {
  question: Schemas["AskedOut"];
  roleOf: (valve: number) => string | undefined;
  held: string;
  pending: boolean;
  error: unknown;
  board: boolean;
  /** Where the Bench shows it, and comes back from. */
  bench: string;
  onAnswer: (given: string[]) => void;
  onReveal: () => void;
  onScore: (right: boolean) => void;
  onNext: () => void;
  onBoard: () => void;
};

export function QuestionCard(props: Props) {
  const { question } = props;
  const { chosen, choose } = useChoosing(props);
  return (
    <section className="card question" aria-label={`Question ${question.number}`}>
      <p className="asks">
        {question.place !== "" && <span>{question.place} </span>}
        <span>{question.asks}</span>
      </p>
      {question.several && !question.answered && <p className="soft">Choose every one that may.</p>}
      <ColleaguesSheet lines={question.sheet} />
      <Options question={question} chosen={chosen} roleOf={props.roleOf} onChoose={choose} />
      {props.error !== null && (
        <p className="notice" role="alert">
          {sentence(props.error)}
        </p>
      )}
      <div role="status">
        {question.answered && (
          <p className={question.right === false ? "notice" : "notice calm"}>
            {question.right !== null && <b>{question.right ? "Right. " : "Not so. "}</b>}
            <Words text={question.wrong?.says ?? question.because ?? ""} />
          </p>
        )}
        {question.answered && <Why question={question} bench={props.bench} />}
      </div>
      <DrillWays {...props} chosen={chosen} />
    </section>
  );
}

/** What leads there and how it is cured, the reasoning step by step, and where it is seen. */
function Why({ question, bench }: Pick<Props, "question" | "bench">) {
  const { wrong, steps } = question;
  return (
    <div className="why">
      {wrong && wrong.label !== "" && (
        <p>
          <b>{wrong.label}.</b> <Words text={wrong.cure} />
        </p>
      )}
      {steps !== null && steps.length > 0 && (
        <ol>
          {steps.map((step) => (
            <li key={step}>{step}</li>
          ))}
        </ol>
      )}
      {wrong && (
        <p>
          <Words text={question.because ?? ""} />
        </p>
      )}
      <Link className="button" to={bench}>
        See it on the Bench
      </Link>
    </div>
  );
}

/** What is chosen so far, by hand or by keys. */
function useChoosing(props: Props) {
  const { question, held } = props;
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const answered = question.answered;

  function choose(id: string) {
    if (answered) return;
    if (!question.several) setChosen([id]);
    else setChosen(chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id]);
  }

  const actions: Record<string, () => void> = {
    enter: () => {
      if (answered) props.onNext();
      else if (held === "class") props.onReveal();
      else if (chosen.length > 0) props.onAnswer([...chosen]);
    },
    b: props.onBoard,
    n: props.onNext,
  };
  if (held === "class" && answered) {
    actions.y = () => props.onScore(true);
    actions.x = () => props.onScore(false);
  }
  question.options.forEach((option, index) => {
    actions[String(index + 1)] = () => choose(option.id);
  });
  useDrillKeys(actions);
  return { chosen, choose };
}

type OptionsProps = {
  question: Props["question"];
  chosen: readonly string[];
  roleOf: Props["roleOf"];
  onChoose: (id: string) => void;
};

function Options({ question, chosen, roleOf, onChoose }: OptionsProps) {
  const { answered } = question;
  return (
    <ul className="options">
      {question.options.map((option, index) => (
        <li key={option.id}>
          <button
            type="button"
            className="option"
            aria-pressed={
              answered ? question.given.includes(option.id) : chosen.includes(option.id)
            }
            data-right={question.answer?.includes(option.id) ?? undefined}
            disabled={answered}
            onClick={() => onChoose(option.id)}
          >
            <kbd>{index + 1}</kbd>
            {option.valve !== null && (
              <Badge number={option.valve} role={roleOf(option.valve) ?? ""} size={40} />
            )}
            {option.says}
            {question.answer?.includes(option.id) && <b className="is-right">✓ right</b>}
          </button>
        </li>
      ))}
    </ul>
  );
}

function DrillWays({ chosen, ...props }: Props & { chosen: readonly string[] }) {
  const { question, held, pending } = props;
  const { answered } = question;
  return (
    <div className="drill-ways">
      {!answered && held !== "class" && (
        <button
          type="button"
          className="button main"
          disabled={pending || chosen.length === 0}
          onClick={() => props.onAnswer([...chosen])}
        >
          Answer <kbd>Enter</kbd>
        </button>
      )}
      {!answered && held === "class" && (
        <button type="button" className="button main" disabled={pending} onClick={props.onReveal}>
          Show the answer <kbd>Enter</kbd>
        </button>
      )}
      {answered && held === "class" && <Score right={question.right} onScore={props.onScore} />}
      {answered && (
        <button type="button" className="button main" onClick={props.onNext}>
          Next <kbd>Enter</kbd>
        </button>
      )}
      <span className="grow" />
      <button type="button" className="button" aria-pressed={props.board} onClick={props.onBoard}>
        Large and dark <kbd>B</kbd>
      </button>
    </div>
  );
}

function Score({ right, onScore }: { right: boolean | null; onScore: Props["onScore"] }) {
  return (
    <>
      <button
        type="button"
        className="button"
        aria-pressed={right === true}
        onClick={() => onScore(true)}
      >
        They had it <kbd>Y</kbd>
      </button>
      <button
        type="button"
        className="button"
        aria-pressed={right === false}
        onClick={() => onScore(false)}
      >
        They had not <kbd>X</kbd>
      </button>
    </>
  );
}

/** Keys for the whole page, but Enter stays a button's own where one has the focus. */
function useDrillKeys(actions: Record<string, () => void>) {
  useEffect(() => {
    function press(event: KeyboardEvent) {
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      const key = event.key.toLowerCase();
      const onControl = event.target instanceof HTMLElement && event.target.closest("button, a");
      if (key === "enter" && onControl && !onControl.classList.contains("option")) return;
      const action = actions[key];
      if (action) {
        event.preventDefault();
        action();
      }
    }
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  });
}
