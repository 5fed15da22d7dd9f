/** What the class is asked, on a student's own device: it covers the page until it is answered. */

import { useState } from "react";
import { BareWheel } from "../bench/BareWheel";
import { ColleaguesSheet } from "../marks/ColleaguesSheet";
import { BareValves } from "./BareValves";
import { Learned } from "./Learned";
import { type Question, useAnswer } from "./useAnswer";
import { useSecondsLeft } from "./useEnd";
import "./phone.css";

const SURE = [
  { value: 1, label: "A guess" },
  { value: 2, label: "Fairly sure" },
  { value: 3, label: "Sure" },
];

export function PhoneQuestion({ question }: { question: Question }) {
  const [isAside, setAside] = useState(false);
  const left = useSecondsLeft(question);
  const isOpen = question.state === "open" && left !== 0;
  if (isAside) {
    return (
      <button type="button" className="asked-bar" onClick={() => setAside(false)}>
        <b>{question.asks}</b>
        <span>{isOpen ? timeWords(left) : stateWords(question)}</span>
      </button>
    );
  }
  return (
    <dialog
      ref={openOnTop}
      className="asked"
      aria-labelledby="asked"
      onCancel={(event) => {
        event.preventDefault();
        setAside(true);
      }}
    >
      <header>
        <span>
          {question.class_name}, {question.engine_name}
        </span>
        <button type="button" className="button" onClick={() => setAside(true)}>
          Back to my page
        </button>
      </header>
      <h1 id="asked">{question.asks}</h1>
      <p className="asked-time" role="timer">
        {isOpen ? timeWords(left) : stateWords(question)}
      </p>
      <Body question={question} isOpen={isOpen} />
    </dialog>
  );
}

/** By the browser's own modal element: what is behind it waits, and the focus stays inside. */
function openOnTop(dialog: HTMLDialogElement | null) {
  if (dialog && !dialog.open) dialog.showModal();
}

function Body({ question, isOpen }: { question: Question; isOpen: boolean }) {
  const answer = useAnswer(question);
  const { drawing } = question;
  const drawn = new Set(drawing?.valves.map((valve) => String(valve.number)));
  const ofValves = question.options.some((option) => option.valve !== null);
  const besides = question.options.filter((option) => !ofValves || !drawn.has(option.id));
  const common = { given: answer.given, right: question.answer, isOpen, onChoose: answer.choose };
  return (
    <>
      {drawing && (
        <div className="asked-drawing">
          <BareWheel drawing={drawing} />
          <BareValves
            {...common}
            drawing={drawing}
            choices={new Set(ofValves ? question.options.map((option) => option.id) : [])}
          />
        </div>
      )}
      <ColleaguesSheet lines={question.sheet} />
      <ul className="asked-options">
        {besides.map((option) => (
          <li key={option.id}>
            <button
              type="button"
              className="option"
              aria-pressed={answer.given.includes(option.id)}
              disabled={!isOpen}
              onClick={() => answer.choose(option.id)}
            >
              {option.says}
              {question.answer?.includes(option.id) && <b className="is-right"> ✓ right</b>}
            </button>
          </li>
        ))}
      </ul>
      {isOpen && answer.given.length > 0 && (
        <fieldset className="asked-sure">
          <legend>How sure are you? You may leave it.</legend>
          {SURE.map(({ value, label }) => (
            <button
              key={value}
              type="button"
              className="button"
              aria-pressed={answer.sure === value}
              onClick={() => answer.setSure(answer.sure === value ? 0 : value)}
            >
              {label}
            </button>
          ))}
        </fieldset>
      )}
      <p className="asked-state" role="status">
        {answer.refusal ?? keptWords(answer, isOpen)}
      </p>
      {question.answer !== null && <Learned question={question} />}
    </>
  );
}

function timeWords(left: number | null): string {
  if (left === null) return "Open until your instructor closes it.";
  return left === 1 ? "1 second left" : `${left} seconds left`;
}

function stateWords({ state }: Question): string {
  if (state === "spread") return "Closed. Look at the wall: this is what the room thinks.";
  if (state === "proof") return "Here is the proof.";
  return "Closed. Look at the wall.";
}

function keptWords(answer: ReturnType<typeof useAnswer>, isOpen: boolean): string {
  if (answer.given.length === 0) return isOpen ? "" : "You gave no answer.";
  if (answer.isKept) {
    return isOpen ? "Your answer is in. You may change it." : "Your answer was counted.";
  }
  if (answer.state === "waiting") return "Waiting for the network; your answer goes by itself.";
  return isOpen ? "Sending your answer…" : "Your answer is not in yet; it is still being sent.";
}
