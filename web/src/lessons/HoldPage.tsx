/** A lesson held before a class: one step on the wall at a time, by Page Down, Page Up or a clicker. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { Suspense, useCallback, useEffect, useMemo, useRef } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { lessonQuery } from "../api/lessons";
import { sentence, Waiting } from "../app/feedback";
import { usePageKeys } from "../app/usePageKeys";
import { useShopRoom } from "../app/useShopRoom";
import { HeldBench } from "./HeldBench";
import { HeldQuestion } from "./HeldQuestion";
import type { Held, Lesson } from "./lesson";
import { tellNotes, useNotesWish } from "./notes";
import { type OnPhones, useHeldStep } from "./useHeldStep";
import "./lessons.css";

export default function HoldPage() {
  const { lessonId = "" } = useParams();
  const [search, setSearch] = useSearchParams();
  const classId = Number(search.get("class")) || null;
  const id = Number(lessonId);
  const { data: lesson } = useSuspenseQuery(lessonQuery(id, classId));
  const place = Math.min(Math.max(Number(search.get("step")) || 1, 1), lesson.held.length);
  const go = useCallback(
    (by: number) =>
      setSearch(
        (now) => {
          const next = new URLSearchParams(now);
          const to = Math.min(Math.max(place + by, 1), lesson.held.length);
          next.set("step", String(to));
          return next;
        },
        { replace: true },
      ),
    [setSearch, place, lesson],
  );
  useEffect(() => {
    document.title = `${lesson.title} · Edrix`;
  }, [lesson]);
  useEffect(() => tellNotes(id, place), [id, place]);
  const onPhones = useHeldStep(id, place, classId);
  const step = lesson.held[place - 1];
  if (step === undefined) return null;
  return <Step key={place} {...{ lesson, step, place, classId, onPhones, go }} />;
}

type StepProps = {
  lesson: Lesson;
  step: Held;
  place: number;
  classId: number | null;
  onPhones: OnPhones;
  go: (by: number) => void;
};

function Step({ lesson, step, place, classId, onPhones, go }: StepProps) {
  // A question takes the key itself, until it was asked, shown and proved.
  const takes = useRef<(() => boolean) | null>(null);
  const next = useCallback(() => {
    if (!takes.current?.()) go(1);
  }, [go]);
  const { board, toggleBoard } = useShopRoom();
  usePageKeys({
    pagedown: next,
    pageup: () => go(-1),
    b: toggleBoard,
  });
  useNotesWish(lesson.id, (by) => (by > 0 ? next() : go(-1)));
  const taking = useCallback((take: (() => boolean) | null) => {
    takes.current = take;
  }, []);
  return (
    <article className="held">
      <header className="held-head">
        <div>
          <p className="soft">
            {lesson.title}, {place} of {lesson.held.length}
          </p>
          <h1>{step.title}</h1>
        </div>
      </header>
      {step.missing !== "" && <p className="notice">{step.missing}</p>}
      {step.text !== "" && <Lines text={step.text} large={step.kind === "text"} />}
      <Suspense fallback={<Waiting />}>
        <Shown step={step} classId={classId} onPhones={onPhones} taking={taking} />
      </Suspense>
      <footer className="wall-ways">
        <button type="button" className="button" disabled={place === 1} onClick={() => go(-1)}>
          Back <kbd>Page Up</kbd>
        </button>
        <button
          type="button"
          className="button main"
          disabled={place === lesson.held.length && step.kind !== "question"}
          onClick={next}
        >
          On <kbd>Page Down</kbd>
        </button>
        <a
          className="button"
          href={`/lesson/${lesson.id}/notes${classId === null ? "" : `?class=${classId}`}`}
          target="edrix-notes"
        >
          My notes
        </a>
        <span className="grow" />
        {classId !== null && (
          <Link className="button" to={`/classes/${classId}/today`}>
            Today
          </Link>
        )}
        <button type="button" className="button" aria-pressed={board} onClick={toggleBoard}>
          Large and dark <kbd>B</kbd>
        </button>
      </footer>
    </article>
  );
}

function Lines({ text, large }: { text: string; large: boolean }) {
  const lines = useMemo(() => text.split("\n").filter((line) => line.trim() !== ""), [text]);
  return (
    <div className={large ? "held-lines large" : "held-lines"}>
      {lines.map((line) => (
        <p key={line}>{line}</p>
      ))}
    </div>
  );
}

type ShownProps = Pick<StepProps, "step" | "classId" | "onPhones"> & {
  taking: (take: (() => boolean) | null) => void;
};

function Shown({ step, classId, onPhones, taking }: ShownProps) {
  if (step.kind === "bench" && step.engine_id !== null) {
    return <HeldBench step={step} engineId={step.engine_id} />;
  }
  if (step.kind === "question" && step.engine_id !== null) {
    if (classId === null) {
      return <p className="notice">A question is put to a class: hold the lesson with one.</p>;
    }
    return <HeldQuestion step={step} engineId={step.engine_id} classId={classId} taking={taking} />;
  }
  if (step.missing !== "" || !(step.kind in BY_HAND)) return null;
  return <EverybodyGoes step={step} onPhones={onPhones} />;
}

/** The way without a phone's help. */
const BY_HAND: Record<string, (step: Held) => string> = {
  drill: ({ engine }) => `Engines, ${engine}, Drill.`,
  practice: ({ named }) => `My sheets, Practice runs, ${named}.`,
  sheet: ({ named }) => `Today, ${named}.`,
};

const ON_PHONES = {
  there: "It stands at the foot of every phone: tap it there.",
  closed: "It is closed to students now: look at its times, or bring it back.",
  away: "The network is away: phones have it as soon as it is back.",
};

/** Where a step leads: at the foot of every phone, and by hand. */
function EverybodyGoes({ step, onPhones }: Pick<StepProps, "step" | "onPhones">) {
  return (
    <>
      <p className="held-do">Everybody: {BY_HAND[step.kind]?.(step)}</p>
      <p role="status" className="soft">
        {typeof onPhones === "string" ? ON_PHONES[onPhones] : onPhones && sentence(onPhones)}
      </p>
      {step.kind === "sheet" && step.named_id !== null && (
        <p className="ways">
          <Link className="button" to={`/board/${step.named_id}`}>
            Board
          </Link>
        </p>
      )}
    </>
  );
}
