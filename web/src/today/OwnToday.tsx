/** A student's day: what to do now, where and with whom; a hand that goes up; what is next. */
import { useMutation, useQueryClient, useSuspenseQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link } from "react-router";
import { api, type Schemas, unwrap } from "../api/client";
import { myNowQuery } from "../api/now";
import { AsLastKnown, sentence } from "../app/feedback";
import { near, timeOfDay } from "../app/school";
import { counted } from "../app/words";
import { pathOf } from "../asking/opens";
import { ToDo } from "../sheets/ToDo";
import { useKeptAhead } from "./useKeptAhead";
import "./today.css";

type Day = Schemas["OwnDayOut"];
type Booking = Schemas["OwnBookingOut"];

export default function OwnToday() {
  const { data, error } = useSuspenseQuery(myNowQuery);
  const { day } = data;
  useKeptAhead(day?.sheets ?? []);
  useEffect(() => {
    document.title = "Today · Edrix";
  }, []);
  return (
    <div className="today own-today">
      <div className="place-head">
        <h1>Today</h1>
      </div>
      <AsLastKnown error={error} />
      {data.opens.map((one) => (
        <Link key={one.key} to={pathOf(one)} className="card work-row lesson-row">
          <span>
            <b>{one.title}</b>
            <span className="soft">
              {one.named}, with {one.class_name}
            </span>
          </span>
          <span className="tag to-do">your lesson, now</span>
        </Link>
      ))}
      {day && <Doing day={day} />}
      {day?.classes.map((one) => (
        <HandButton key={one.id} of={one} alone={day.classes.length === 1} />
      ))}
      {day && <Next day={day} />}
      <p className="ways">
        <Link className="button" to="/work">
          All sheets and practice runs
        </Link>
      </p>
    </div>
  );
}

function Doing({ day }: { day: Day }) {
  const { now, sheets, runs, practice, back } = day;
  const isFree = [now, sheets, runs, practice, back].every((list) => list.length === 0);
  return (
    <section aria-label="Now">
      {day.now.map((one) => (
        <article key={one.starts_at + one.place} className="card now-card">
          <p className="now-place">{one.place}</p>
          <p className="now-task">{one.task}</p>
          <p>{withWords(one)}</p>
          <p className="soft">until {timeOfDay(one.ends_at)}</p>
        </article>
      ))}
      <ul className="work-list">
        {day.sheets.map((sheet) => (
          <li key={sheet.id}>
            <Link to={`/sheet/${sheet.id}`} className="card work-row">
              <span>
                <b>{sheet.title}</b>
                <span className="soft">
                  {sheet.engine}, {sheet.stand}
                </span>
              </span>
              <ToDo sheet={sheet} />
            </Link>
          </li>
        ))}
        {day.runs.map((run) => (
          <li key={run.id}>
            <Link to={`/practice/${run.id}`} className="card work-row">
              <span>
                <b>{run.title}</b>
                <span className="soft">Your practice run</span>
              </span>
              <span className="tag to-do">
                {run.until === null ? "go on" : `until ${timeOfDay(run.until)}`}
              </span>
            </Link>
          </li>
        ))}
        {day.practice.map((one) => (
          <li key={one.id}>
            <Link to={`/work?practice=${one.id}`} className="card work-row">
              <span>
                <b>{one.title}</b>
                <span className="soft">
                  {one.level === "test" ? "Test" : "Practice run"} on {one.engine}
                  {one.minutes !== null && `, ${one.minutes} minutes`}
                </span>
              </span>
              <span className="tag">not begun</span>
            </Link>
          </li>
        ))}
      </ul>
      {day.back.map((one) => (
        <Link
          key={`${one.engine_id} ${one.version}`}
          to={`/drill/${one.engine_id}?version=${one.version}`}
          className="card work-row"
        >
          <span>
            <b>{counted(one.questions, "question")} that you missed</b>
            <span className="soft">{one.engine_name}: a drill begins with them</span>
          </span>
          <span className="tag to-do">comes back</span>
        </Link>
      ))}
      {isFree && (
        <p className="soft">
          Nothing is set for you now. Turn an engine on the Bench, or drill what you want to know.
        </p>
      )}
    </section>
  );
}

function withWords({ others }: Booking): string {
  return others.length === 0 ? "by yourself" : `with ${others.join(", ")}`;
}

function Next({ day }: { day: Day }) {
  if (day.next.length === 0) return null;
  return (
    <section>
      <h2>Next</h2>
      <ul className="next-list">
        {day.next.map((one) => (
          <li key={one.starts_at + one.place} className="card">
            <span className="figures">{near(one.starts_at)}</span> <b>{one.place}</b>, {one.task},{" "}
            {withWords(one)}
          </li>
        ))}
      </ul>
    </section>
  );
}

function HandButton({ of, alone }: { of: Day["classes"][number]; alone: boolean }) {
  const queries = useQueryClient();
  const isUp = of.hand_at !== null;
  const raise = useMutation({
    mutationFn: (up: boolean) =>
      unwrap(
        api.PUT("/api/classes/{class_id}/hand", {
          params: { path: { class_id: of.id } },
          body: { up },
        }),
      ),
    onSuccess: (_answer, up) => {
      const at = up ? new Date().toISOString() : null;
      queries.setQueryData(myNowQuery.queryKey, (before) => {
        if (!before?.day) return before;
        const classes = before.day.classes.map((one) =>
          one.id === of.id ? { ...one, hand_at: one.hand_at && up ? one.hand_at : at } : one,
        );
        return { ...before, day: { ...before.day, classes } };
      });
    },
  });
  return (
    <div className="own-hand">
      <button
        type="button"
        className="button hand-button"
        aria-pressed={isUp}
        disabled={raise.isPending}
        onClick={() => raise.mutate(!isUp)}
      >
        {isUp ? "Take my hand down" : "Put my hand up"}
        {!alone && <span>{of.name}</span>}
      </button>
      <p role="status">
        {of.hand_at !== null && `Up since ${timeOfDay(of.hand_at)}. Your instructor sees it.`}
      </p>
      {raise.error !== null && (
        <p className="notice" role="alert">
          {sentence(raise.error)}
        </p>
      )}
    </div>
  );
}
