/** The instructor's own screen during a lesson: notes, what comes next, and the clock. */
import { useSuspenseQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useParams, useSearchParams } from "react-router";
import { lessonQuery } from "../api/lessons";
import { usePageKeys } from "../app/usePageKeys";
import { beginsAt } from "./lesson";
import { followWall } from "./notes";
import "./lessons.css";

const MS_PER_MINUTE = 60_000;

export default function NotesPage() {
  const { lessonId = "" } = useParams();
  const [search] = useSearchParams();
  const id = Number(lessonId);
  const { data: lesson } = useSuspenseQuery(lessonQuery(id, Number(search.get("class")) || null));
  const [place, setPlace] = useState(1);
  const wall = useRef<ReturnType<typeof followWall> | null>(null);
  useEffect(() => {
    document.title = `Notes, ${lesson.title} · Edrix`;
    wall.current = followWall(id, setPlace);
    return () => wall.current?.close();
  }, [id, lesson]);
  usePageKeys({
    pagedown: () => wall.current?.move(1),
    pageup: () => wall.current?.move(-1),
  });
  const since = useMinutesHere();
  const begins = beginsAt(lesson.held);
  const step = lesson.held[place - 1];
  const next = lesson.held[place];
  if (step === undefined) return null;
  return (
    <article className="notes">
      <p className="soft">
        {lesson.title}, {place} of {lesson.held.length}
      </p>
      <h1>{step.title}</h1>
      <p className="notes-clock figures">
        {since} min; planned here from {begins[place - 1]} to {begins[place]} of {begins.at(-1)}
      </p>
      {step.notes === "" ? (
        <p className="soft">No notes for this step.</p>
      ) : (
        step.notes.split("\n").map((line) => (
          <p key={line} className="notes-line">
            {line}
          </p>
        ))
      )}
      <section className="card notes-next">
        <h2>Next</h2>
        <p>{next ? next.title : "The end."}</p>
      </section>
      <p className="ways">
        <button type="button" className="button" onClick={() => wall.current?.move(-1)}>
          Back <kbd>Page Up</kbd>
        </button>
        <button type="button" className="button main" onClick={() => wall.current?.move(1)}>
          On <kbd>Page Down</kbd>
        </button>
      </p>
    </article>
  );
}

function useMinutesHere(): number {
  const [begun] = useState(() => Date.now());
  const [now, setNow] = useState(begun);
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 10_000);
    return () => clearInterval(timer);
  }, []);
  return Math.floor((now - begun) / MS_PER_MINUTE);
}
